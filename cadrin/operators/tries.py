"""Whoever tries and fails has to wait, longer each time: passwords by name and by address, PINs by
operator.

A try is taken before it is judged and given back when it was right: so tries that are made side by
side are counted like those that are made one after the other.
"""

from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import NamedTuple

from django.db import transaction
from django.db.models import F
from django.utils.crypto import salted_hmac

from cadrin.core.errors import Invalid
from cadrin.core.sign_in import COUNTED_FOR, wait_left
from cadrin.operators.models import Tries


class Counted(NamedTuple):
    """What tries are counted for, how many in a row are free before one has to wait, and when they
    are forgotten.
    """

    kind: str
    subject: str
    free: int
    counted_for: timedelta = COUNTED_FOR

    @property
    def digest(self) -> str:
        # what is typed as a name is now and then a password
        return salted_hmac(
            f"cadrin.{self.kind}", self.subject.casefold(), algorithm="sha256"
        ).hexdigest()


def take_try(counted: Iterable[Counted], at: datetime, code: str, field: str | None) -> None:
    """Count a try for each of these, or raise Invalid with ``code`` while any of them has to wait.

    What has to wait is no try: nobody's wait makes that of others longer who come from the same
    address.
    """
    seconds, rows = 0, []
    with transaction.atomic():
        Tries.objects.filter(last_at__lte=at - COUNTED_FOR).delete()
        for item in counted:
            row = Tries.objects.filter(subject_digest=item.digest).first()
            row = row or Tries(subject_digest=item.digest, failures=0, last_at=at)
            if at - row.last_at >= item.counted_for:
                row.failures = 0
            # a clock that was set back must not make the wait longer than it ever is
            row.last_at = min(row.last_at, at)
            if left := wait_left(row.failures, row.last_at, at, item.free):
                seconds = max(seconds, int(left.total_seconds()) + 1)
            rows.append(row)
        for row in rows:
            if not seconds:
                row.failures, row.last_at = row.failures + 1, at
            row.save()
    if seconds:
        raise Invalid.of(code, field, seconds=seconds)


@transaction.atomic
def give_back(counted: Iterable[Counted]) -> None:
    """Count a try no more that was taken and turned out to be none."""
    for item in counted:
        Tries.objects.filter(subject_digest=item.digest, failures__gt=0).update(
            failures=F("failures") - 1
        )


def forget_tries(counted: Counted) -> None:
    Tries.objects.filter(subject_digest=counted.digest).delete()
