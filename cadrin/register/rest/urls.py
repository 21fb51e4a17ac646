from django.urls import path

from cadrin.register.rest import views

urlpatterns = [
    path("cardholders/", views.Cardholders.as_view()),
    path("cardholders/find/", views.Find.as_view()),
    path("doors/<int:id>/people/", views.DoorPeople.as_view()),
    path("weigh/batch/", views.WeighBatch.as_view()),
    path("batches/", views.Batches.as_view()),
    path("batches/<int:id>/", views.OneBatch.as_view()),
    path("batches/<int:id>/back/", views.BatchBack.as_view()),
    path("views/", views.Views.as_view()),
    path("views/<int:id>/", views.OneView.as_view()),
    path("export/", views.Exports.as_view()),
]
