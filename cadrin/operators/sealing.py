"""Secrets that must be read again are sealed: encrypted and authenticated, with a key outside of
the database.
"""

from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from django.conf import settings
from django.db.models import Model

from cadrin.core.errors import Invalid

_sealed: list[tuple[type[Model], str]] = []


def keep_sealed(model: type[Model], column: str) -> None:
    """Say that a column is sealed; once, when the room is made ready."""
    _sealed.append((model, column))


def sealed_columns() -> tuple[tuple[type[Model], str], ...]:
    """Return every column of the database that is sealed."""
    return tuple(_sealed)


def seal(secret: str) -> str:
    """Encrypt a secret with the newest key."""
    return _keys().encrypt(secret.encode()).decode()


def unseal(sealed: str) -> str:
    """Return a secret back. Raises Invalid when it was changed, or its key is gone."""
    try:
        return _keys().decrypt(sealed.encode()).decode()
    except InvalidToken as error:
        raise Invalid.of("secret.cannot_be_read") from error


def sealed_anew(sealed: str) -> str:
    """Seal with the newest key what was sealed with any. Raises Invalid as `unseal` does."""
    return seal(unseal(sealed))


def _keys() -> MultiFernet:
    return MultiFernet([Fernet(key) for key in settings.SEALING_KEYS])
