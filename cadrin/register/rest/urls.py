from django.urls import path

from cadrin.register.rest import views

urlpatterns = [
    path("cardholders/", views.Cardholders.as_view()),
    path("cardholders/find/", views.Find.as_view()),
    path("doors/<int:id>/people/", views.DoorPeople.as_view()),
    path("views/", views.SavedLists.as_view()),
    path("views/<int:id>/", views.OneSavedList.as_view()),
    path("export/", views.Exports.as_view()),
]
