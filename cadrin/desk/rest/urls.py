from django.urls import path

from cadrin.desk.rest import detective, views

urlpatterns = [
    path("preview/number/", detective.NumberDetective.as_view()),
    path("desk/", views.Desk.as_view()),
    path("unknown-cards/", views.UnknownCards.as_view()),
    path("reads/<int:id>/aside/", views.UnknownCardAside.as_view()),
    path("waiting/", views.Waiting.as_view()),
    path("reads/<int:id>/", views.OneRead.as_view()),
    path("cards/life/", views.CardHistory.as_view()),
    path("journal/", views.Journal.as_view()),
    path("cardholders/<int:id>/history/", views.CardholderActs.as_view()),
]
