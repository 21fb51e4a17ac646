from django.contrib.auth.models import AbstractUser

from cadrin.operators.permissions import WORDS


class Operator(AbstractUser):
    """Somebody who works with Cadrin."""

    class Meta:
        permissions = [(permission.value, words) for permission, words in WORDS.items()]

    def __str__(self) -> str:
        return self.get_full_name() or self.username
