from django.urls import path

from cadrin.accounts.rest import own, views

urlpatterns = [
    path("session/", own.SessionView.as_view()),
    path("password-link/", own.PasswordByLink.as_view()),
    path("account/", own.Account.as_view()),
    path("account/password/", own.OwnPassword.as_view()),
    path("account/sessions/", own.OwnSessions.as_view()),
    path("account/codes/", own.OwnCodes.as_view()),
    path("account/codes/off/", own.OwnCodesOff.as_view()),
    path("operators/", views.Operators.as_view()),
    path("operators/<int:id>/", views.OneOperator.as_view()),
    path("operators/<int:id>/link/", views.OperatorLink.as_view()),
    path("operators/<int:id>/sessions/", views.OperatorSessions.as_view()),
    path("operators/<int:id>/codes/", views.OperatorCodes.as_view()),
    path("roles/", views.Roles.as_view()),
    path("roles/<int:id>/", views.OneRole.as_view()),
    path("tokens/", views.Tokens.as_view()),
    path("tokens/<int:id>/", views.OneToken.as_view()),
]
