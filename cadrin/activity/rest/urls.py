from django.urls import path

from cadrin.activity.rest import views

urlpatterns = [
    path("reads/", views.Reads.as_view()),
    path("news/", views.News.as_view()),
]
