# mypy: disable-error-code="attr-defined,return-value"
"""Sessions as the framework has them, but known to the database and the memory by a digest of their
key alone.

Whoever gets hold of a copy of the database comes in by none of them.
"""

import hashlib
from datetime import datetime
from typing import Any

from django.contrib.sessions.backends import cached_db
from django.contrib.sessions.models import Session
from django.db import OperationalError, transaction
from django.utils import timezone

from cadrin.operators.notes import hurried

SEEN_AT = "seen_at"


def digest_of(key: str) -> str:
    """Return what is kept of a session's key; keys are long and random, so that a plain hash tells
    nothing of them.
    """
    return hashlib.sha256(key.encode()).hexdigest()[:40]


class SessionStore(cached_db.SessionStore):  # the framework's private names have no types
    """The store that the framework is told of in SESSION_ENGINE."""

    @property
    def cache_key(self) -> str:
        return str(self.cache_key_prefix) + digest_of(self._get_or_create_session_key())

    def exists(self, session_key: str | None) -> bool:
        return session_key is not None and super().exists(digest_of(session_key))

    def delete(self, session_key: str | None = None) -> None:
        key = session_key or self.session_key
        if key is not None:
            super().delete(digest_of(key))

    def create_model_instance(self, data: dict[str, Any]) -> Session:
        session = super().create_model_instance(data)
        session.session_key = digest_of(session.session_key)
        return session

    def _get_session_from_db(self) -> Session | None:
        key = digest_of(self.session_key) if self.session_key else ""
        return self.model.objects.filter(session_key=key, expire_date__gt=timezone.now()).first()

    def seen_at(self) -> datetime | None:
        """Return when somebody was last at the page, as far as it was noted."""
        told = self.get(SEEN_AT)
        return datetime.fromisoformat(told) if told else None

    def note_seen(self, at: datetime) -> None:
        """Note that somebody is at the page: in memory at once, in the database when nobody else is
        writing.
        """
        self._get_session()[SEEN_AT] = at.isoformat()
        self._cache.set(self.cache_key, self._get_session(), self.get_expiry_age())
        try:
            with hurried(), transaction.atomic():
                self.model.objects.filter(
                    session_key=digest_of(self._get_or_create_session_key())
                ).update(session_data=self.encode(self._get_session()))
        except OperationalError:
            pass  # noted in memory, and again in a minute


def forget_ended(at: datetime) -> int:
    """Delete the sessions that are over, and return how many."""
    if not Session.objects.filter(expire_date__lt=at).exists():
        return 0
    return Session.objects.filter(expire_date__lt=at).delete()[0]
