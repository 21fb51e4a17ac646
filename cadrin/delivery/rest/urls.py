from django.urls import path

from cadrin.delivery.rest import devices, views

urlpatterns = [
    path("preview/", views.PreviewCardholder.as_view()),
    path("preview/group/", views.PreviewGroup.as_view()),
    path("doors/<int:id>/picture/", views.SeenAtDoor.as_view()),
    path("cardholders/<int:id>/records/", views.CardholderRecords.as_view()),
    path("controllers/", views.Controllers.as_view()),
    path("controllers/<int:id>/records/", views.ControllerRecords.as_view()),
    path("controllers/search/", devices.FoundControllers.as_view()),
    path("controllers/new/", devices.TakenIn.as_view()),
    path("controllers/<int:id>/", devices.OneController.as_view()),
    path("controllers/<int:id>/replacement/", devices.ControllerReplacement.as_view()),
    path("readers/<int:id>/name/", devices.ReaderName.as_view()),
    path("controllers/<int:id>/sending/", views.ControllerSending.as_view()),
    path("controllers/<int:id>/clock/", views.ControllerClock.as_view()),
    path("controllers/<int:id>/check/", views.ControllerCheck.as_view()),
]
