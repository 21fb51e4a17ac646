from django.urls import path

from cadrin.people.rest import views

urlpatterns = [
    path("cardholders/<int:id>/here/", views.Presence.as_view()),
    path("companies/", views.Companies.as_view()),
    path("companies/<int:id>/", views.OneCompany.as_view()),
    path("kinds/", views.Kinds.as_view()),
    path("kinds/<int:id>/", views.OneKind.as_view()),
    path("own-fields/", views.OwnFields.as_view()),
    path("own-fields/order/", views.OwnFieldOrder.as_view()),
    path("own-fields/<int:id>/", views.OneOwnField.as_view()),
    path("own-fields/<int:id>/back/", views.OwnFieldBack.as_view()),
    path("register/", views.Settings.as_view()),
    path("preview/register/", views.PreviewSettings.as_view()),
]
