from django.urls import path

from cadrin.activity.rest import views

urlpatterns = [
    path("cards/life/", views.CardLife.as_view()),
    path("journal/", views.Journal.as_view()),
    path("reads/", views.Reads.as_view()),
    path("reads/<int:id>/", views.OneRead.as_view()),
    path("news/", views.News.as_view()),
    path("desk/", views.Desk.as_view()),
    path("waiting/", views.Waiting.as_view()),
    path("cardholders/<int:id>/history/", views.CardholderHistory.as_view()),
    path("cardholders/<int:id>/history/<int:entry>/back/", views.TakeBack.as_view()),
    path("cardholders/<int:id>/erase/", views.Erase.as_view()),
    path("cardholders/<int:id>/merge/", views.Merge.as_view()),
    path("bench/", views.TestBench.as_view()),
    path("bench/reads/", views.BenchReads.as_view()),
    path("bench/mail/", views.BenchMail.as_view()),
    path("bench/controllers/<int:id>/", views.BenchSwitch.as_view()),
    path("bench/controllers/<int:id>/store/", views.BenchStore.as_view()),
]
