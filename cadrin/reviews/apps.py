from django.apps import AppConfig


class Reviews(AppConfig):
    name = "cadrin.reviews"
