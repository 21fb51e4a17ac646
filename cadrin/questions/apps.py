from django.apps import AppConfig


class Questions(AppConfig):
    name = "cadrin.questions"
