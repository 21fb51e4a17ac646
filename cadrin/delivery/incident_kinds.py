"""What may happen with a controller that somebody should know of."""

from django.db import models


class IncidentKind(models.TextChoices):
    """What happened with a controller that somebody should know of."""

    FORGED = "forged"  # it refused messages that were not Cadrin's
    REPLAYED = "replayed"  # it refused messages of Cadrin's that came a second time
    STRAY = "stray"  # it held a record that nobody sent
    CHANGED = "changed"  # what it held had been changed there
    UNREADABLE = "unreadable"  # it told of something that could not be read
    FAILED = "failed"  # a round of its line ended in an error
