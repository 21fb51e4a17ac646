"""What of the database is sealed, and whether the keys at hand open it."""

from django.conf import settings
from django.db import DatabaseError

from cadrin.config.keys import SEALING, SECRET
from cadrin.core.errors import Invalid
from cadrin.operators.sealing import sealed_columns, unseal


def problem_with_keys() -> str:
    """Say what is wrong with the keys that this process was started with; empty when it may begin.

    A new key in place of one that was lost would leave what it sealed unreadable for good, and
    doors with it: so nobody makes one, and nothing starts, until the old one is back.
    """
    if not settings.HAS_SECRET_KEY:
        return f"The key of sessions is missing: {settings.VAR / SECRET}. Make it: python manage.py prepare"
    sealed = _newest_of_each()
    where = f"{settings.VAR / SEALING}, or CADRIN_SEALING_KEYS"
    if not settings.SEALING_KEYS:
        if sealed:
            return f"The sealing key is missing: {where}. Secrets in the database were sealed with it: put it back."
        return f"The sealing key is missing: {where}. Make it: python manage.py prepare"
    for secret in sealed:
        try:
            unseal(secret)
        except (Invalid, ValueError):
            return f"The sealing key is another than the one that the database was sealed with: {where}. Put that back."
    return ""


def has_sealed() -> bool:
    return bool(_newest_of_each())


def _newest_of_each() -> list[str]:
    """Return the newest secret of each kind; nothing where there is no table yet."""
    found = []
    for model, field in sealed_columns():
        try:
            row = (
                model._default_manager.exclude(**{field: ""})
                .order_by("-pk")
                .values_list(field, flat=True)
                .first()
            )
        except DatabaseError:
            continue
        if row:
            found.append(row)
    return found
