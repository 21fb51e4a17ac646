from django.urls import path

from cadrin.photos.rest import views

urlpatterns = [
    path("images/", views.Images.as_view()),
    path("images/<str:token>/", views.OneImage.as_view()),
    path("images/<str:token>/crop/", views.ImageCrop.as_view()),
    path("images/<str:token>/<str:size>.jpg", views.ImageFile.as_view()),
]
