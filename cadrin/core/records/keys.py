"""Which record: its kind and number, and digests by which two of them are compared."""

import hashlib
from collections.abc import Iterable
from enum import StrEnum
from typing import Any, NamedTuple

import orjson

Body = dict[str, Any]
"""The content of a record, as JSON."""


class RecordKind(StrEnum):
    """The kinds of record, in the order in which they must arrive: each leans on those
    before it.
    """

    RULES = "rules"
    FORMAT = "format"
    SCHEDULE = "schedule"
    AREA = "area"
    DOOR = "door"
    READER = "reader"
    GROUP = "group"
    PRESENCE = "presence"
    CARDHOLDER = "cardholder"


OF_PEOPLE = (RecordKind.CARDHOLDER, RecordKind.PRESENCE)
"""One for each cardholder; all others are the plan's."""


class RecordKey(NamedTuple):
    """Which record: written ``cardholder:17``."""

    kind: RecordKind
    id: int

    def __str__(self) -> str:
        return f"{self.kind}:{self.id}"

    @classmethod
    def parse(cls, text: str) -> "RecordKey":
        """Read the written form. Raises ValueError when it is none."""
        kind, _, number = text.partition(":")
        return cls(RecordKind(kind), int(number))


THE_RULES = RecordKey(RecordKind.RULES, 1)
"""The one record with the rules of the site."""


def digest(key: RecordKey, body: Body) -> str:
    """Return 32 hexadecimal digits that are the same exactly when key and content are the same."""
    return hashlib.sha256(
        str(key).encode() + b"\n" + orjson.dumps(body, option=orjson.OPT_SORT_KEYS)
    ).hexdigest()[:32]


def sum_of(digests: Iterable[str]) -> str:
    """Return one digest of many, whatever their order. Adding one and taking it away are the same
    act.
    """
    total = 0
    for digest_ in digests:
        total ^= int(digest_, 16)
    return f"{total:032x}"
