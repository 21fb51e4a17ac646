from django.urls import path

from cadrin.reviews.rest import views

urlpatterns = [
    path("reviews/", views.Reviews.as_view()),
    path("groups/<int:id>/review/", views.Reviewing.as_view()),
    path("groups/<int:id>/review/end/", views.ReviewEnd.as_view()),
    path("groups/<int:id>/review/record/", views.ReviewRecord.as_view()),
    path("doors/<int:id>/review/", views.DoorReviewing.as_view()),
    path("doors/<int:id>/review/end/", views.DoorReviewEnd.as_view()),
    path("doors/<int:id>/review/record/", views.DoorReviewRecord.as_view()),
]
