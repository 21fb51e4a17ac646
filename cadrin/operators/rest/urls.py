from django.urls import path

from cadrin.operators.rest.views import SessionView

urlpatterns = [path("session/", SessionView.as_view())]
