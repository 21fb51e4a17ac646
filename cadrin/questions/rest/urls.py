from django.urls import path

from cadrin.questions.rest import views

urlpatterns = [
    path("questions/door/", views.AtDoor.as_view()),
    path("questions/unused/", views.Unused.as_view()),
    path("questions/alone/", views.Alone.as_view()),
    path("questions/way/", views.Way.as_view()),
    path("questions/compare/", views.Compare.as_view()),
]
