"""The journal's chain: each entry carries a digest of the one before, so that no line can be
changed unseen.

What an entry says (`Body`) goes into the chain by a salted digest of its own. So what must be
erased, can be: the body and its salt go, its digest stays, and the entry that erased it says what
is left. Digests are SHA-256 (FIPS 180-4) over JSON with sorted keys and no spaces, in UTF-8.
"""

import hashlib
import json
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

BEGINNING = "0" * 64
"""What the first entry names as the digest before it."""

Topic = tuple[str, int, int]
"""What an entry is about: the kind, the id, and the version after the act."""


@dataclass(frozen=True, slots=True)
class Body:
    """What an entry says; the part of it that may have to be erased."""

    changes: Mapping[str, Any]
    raw: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Link:
    """One entry as the chain sees it. ``salt`` is empty once the body was erased in part."""

    number: int
    at: datetime
    operator_id: int | None
    operator_name: str
    address: str
    action: str
    about: tuple[Topic, ...]
    body: Body
    salt: str
    body_digest: str
    digest: str


@dataclass(frozen=True, slots=True)
class Broken:
    """The first entry that is not as it was written, and in what: ``body``, ``chain``, ``erased``
    or ``topics``.
    """

    number: int
    what: str


_CANONICAL = json.JSONEncoder(sort_keys=True, separators=(",", ":"), ensure_ascii=False)


def digest_of_body(body: Body, salt: str) -> str:
    """Return the digest of what an entry says; without the salt nobody can try out what
    was erased.
    """
    return _digest([salt, body.changes, body.raw])


def digest_of_entry(
    before: str,
    at: datetime,
    operator: tuple[int | None, str, str],
    action: str,
    about: Sequence[Topic],
    body_digest: str,
) -> str:
    """Return the digest of an entry that follows one with the digest ``before``.

    ``operator`` is the id, the name, and where the act came from.
    """
    when = at.astimezone(UTC).isoformat(timespec="microseconds")
    return _digest(
        [before, when, list(operator), action, [list(topic) for topic in about], body_digest]
    )


def _digest(what: Any) -> str:
    return hashlib.sha256(_CANONICAL.encode(what).encode()).hexdigest()


def first_broken(links: Iterable[Link], before: str = BEGINNING) -> Broken | None:
    """Find the first entry that was changed, put in, left out or moved; None when all are as they
    were written.

    ``links`` come in their order. An entry whose body was erased in part is compared with what the
    entry that erased it says was left (`erased_by`); that may come much later, so those are looked
    at after the others.
    """
    erased: dict[int, str] = {}
    left: dict[int, str] = {}
    for link in links:
        if link.salt:
            if digest_of_body(link.body, link.salt) != link.body_digest:
                return Broken(link.number, "body")
        else:
            erased[link.number] = digest_of_body(link.body, "")
        operator = (link.operator_id, link.operator_name, link.address)
        if (
            digest_of_entry(before, link.at, operator, link.action, link.about, link.body_digest)
            != link.digest
        ):
            return Broken(link.number, "chain")
        before = link.digest
        left |= {number: digest for number, digest in erased_by(link.body) if number < link.number}
    wrong = [number for number, digest in erased.items() if left.get(number) != digest]
    return Broken(min(wrong), "erased") if wrong else None


ERASED = "erased_entries"
"""The field of an entry that erased parts of others: ``[[number, digest of what is left], ...]``.
"""


def erased_by(body: Body) -> list[tuple[int, str]]:
    """Return the entries that one erased parts of, each with the digest of what was left."""
    pair = body.raw.get(ERASED)
    return [(int(number), str(digest)) for number, digest in pair[1]] if pair else []
