from django.apps import AppConfig


class Desk(AppConfig):
    name = "cadrin.desk"
