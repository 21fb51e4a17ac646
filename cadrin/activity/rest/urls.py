from django.urls import path

from cadrin.activity.rest import doors, views

urlpatterns = [
    path("reads/", views.Reads.as_view()),
    path("doors/now/", doors.DoorsNow.as_view()),
    path("releases/<int:id>/", doors.ReportOfRelease.as_view()),
    path("news/", views.News.as_view()),
]
