from django.urls import path

from cadrin.intake.rest import views

urlpatterns = [
    path("intakes/", views.Intakes.as_view()),
    path("intakes/from-controller/", views.IntakeFromController.as_view()),
    path("intakes/<int:id>/", views.OneIntake.as_view()),
    path("intakes/<int:id>/rows/", views.IntakeRows.as_view()),
    path("intakes/<int:id>/faults/", views.IntakeFaults.as_view()),
    path("intakes/<int:id>/photos/", views.IntakePhotos.as_view()),
    path("intakes/<int:id>/left-out/", views.LeaveOut.as_view()),
    path("intakes/<int:id>/use-mapping/", views.UseMapping.as_view()),
    path("intakes/<int:id>/mapping/", views.SaveMapping.as_view()),
    path("intakes/<int:id>/apply/", views.ApplyIntake.as_view()),
    path("intakes/<int:id>/stop/", views.StopIntake.as_view()),
    path("intakes/<int:id>/undo/", views.UndoIntake.as_view()),
    path("intake-mappings/", views.Mappings.as_view()),
    path("intake-mappings/<int:id>/", views.OneMapping.as_view()),
]
