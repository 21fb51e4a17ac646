from django.urls import path

from cadrin.sites.rest import readers, views

urlpatterns = [
    path("coming/", views.ComingInstants.as_view()),
    path("readers/<int:id>/", readers.OneReader.as_view()),
    path("schedules/", views.Schedules.as_view()),
    path("schedules/<int:id>/", views.OneSchedule.as_view()),
]
