from django.urls import path

from cadrin.questions.rest import views

urlpatterns = [
    path("questions/door/", views.AtDoor.as_view()),
    path("questions/unused/", views.Unused.as_view()),
    path("questions/alone/", views.Alone.as_view()),
    path("questions/way/", views.Way.as_view()),
    path("questions/compare/", views.Compare.as_view()),
    path("questions/area/", views.IntoArea.as_view()),
    path("questions/person/", views.OfPerson.as_view()),
    path("questions/group/", views.OfGroup.as_view()),
    path("questions/instants/", views.Instants.as_view()),
    path("questions/matrix/", views.MatrixOfGroups.as_view()),
    path("questions/saved/", views.SavedQuestions.as_view()),
    path("questions/saved/<int:id>/", views.OneSavedQuestion.as_view()),
]
