"""What an act may have changed the records of."""

from django.db import models


class Subject(models.TextChoices):
    """What an act may have changed the records of."""

    CARDHOLDER = "cardholder"
    GROUP = "group"
    CONTROLLER = "controller"
    PRESENCE = "presence"
    DOOR = "door"
    """Something is to be done at a door at once: no record changes, and its line is woken."""
