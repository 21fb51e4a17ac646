from django.urls import path

from cadrin.bench.rest import views

urlpatterns = [
    path("bench/", views.TestBench.as_view()),
    path("bench/reads/", views.BenchReads.as_view()),
    path("bench/doors/<int:id>/", views.BenchDoors.as_view()),
    path("bench/mail/", views.BenchMail.as_view()),
    path("bench/controllers/", views.BenchBoxes.as_view()),
    path("bench/controllers/<int:id>/", views.BenchSwitch.as_view()),
    path("bench/controllers/<int:id>/strangers/", views.BenchStrangers.as_view()),
    path("bench/controllers/<int:id>/store/", views.BenchStore.as_view()),
]
