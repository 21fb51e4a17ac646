from django.urls import path

from cadrin.register.rest import views

urlpatterns = [
    path("cardholders/", views.Cardholders.as_view()),
    path("cardholders/find/", views.Find.as_view()),
    path("doors/<int:id>/people/", views.DoorPeople.as_view()),
    path("saved-lists/", views.SavedLists.as_view()),
    path("saved-lists/<int:id>/", views.OneSavedList.as_view()),
    path("export/table/", views.TableExports.as_view()),
    path("export/", views.Exports.as_view()),
]
