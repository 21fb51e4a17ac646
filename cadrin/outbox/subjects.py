"""What an act may have changed the records of."""

from django.db import models


class Subject(models.TextChoices):
    """What an act may have changed the records of."""

    CARDHOLDER = "cardholder"
    GROUP = "group"
    CONTROLLER = "controller"
