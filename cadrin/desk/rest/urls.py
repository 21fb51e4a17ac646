from django.urls import path

from cadrin.desk.rest import views

urlpatterns = [
    path("desk/", views.Desk.as_view()),
    path("waiting/", views.Waiting.as_view()),
    path("reads/<int:id>/", views.OneRead.as_view()),
    path("cards/life/", views.CardHistory.as_view()),
    path("journal/", views.Journal.as_view()),
    path("cardholders/<int:id>/history/", views.CardholderActs.as_view()),
]
