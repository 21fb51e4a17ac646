from django.urls import path

from cadrin.demo.rest import views

urlpatterns = [
    path("intake-samples/", views.IntakeSamples.as_view()),
    path("intake-samples/<str:name>/", views.OneIntakeSample.as_view()),
]
