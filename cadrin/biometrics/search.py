"""Look a finger up among everybody's: whose it is already."""

from collections.abc import Mapping
from contextlib import suppress
from datetime import datetime
from typing import NamedTuple

from cadrin.biometrics.captures import rule_of, template_of
from cadrin.biometrics.models import Capture, Template
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.comparison import Prints, prints_of
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.search import Gallery
from cadrin.core.errors import Invalid
from cadrin.core.records.biometrics import finger_in
from cadrin.operators.sealing import unseal

MOST_BY_ID = 500
_Version = tuple[int, datetime]
"""A template and when it was taken: what was opened once is not opened again."""


class _Known(NamedTuple):
    gallery: Gallery
    prints: Mapping[_Version, Prints]


_known = _Known(Gallery({}), {})


class Found(NamedTuple):
    """Whose finger it is already."""

    holder_id: int
    finger: Finger
    score: float


def search_everybody(capture: Capture) -> list[Found]:
    """Return the fingers that a captured one is already, the most alike first, but for the place
    for which it is taken.

    Raises Invalid while presses are missing.
    """
    rows = {
        id_: (holder_id, position, taken_at)
        for id_, holder_id, position, taken_at in Template.objects.filter(
            factor=Factor.FINGER
        ).values_list("id", "holder_id", "position", "taken_at")
    }
    gallery = _gallery({(id_, row[2]) for id_, row in rows.items()})
    found = gallery.search(prints_of(template_of(capture).minutiae), rule_of(capture).match)
    whose = [(*rows[match.key][:2], match.score) for match in found]
    return [
        Found(holder_id, Finger(position), score)
        for holder_id, position, score in whose
        if (holder_id, position) != (capture.holder_id, capture.finger)
    ]


def _gallery(wanted: set[_Version]) -> Gallery:
    """Return all fingers ready to be looked through; only those that are new are opened."""
    global _known
    known = _known  # threads look things up beside each other: it is replaced, never changed
    if wanted == known.prints.keys():
        return known.gallery
    prints = {version: known.prints[version] for version in wanted & known.prints.keys()}
    missing = dict(wanted - prints.keys())
    rows = Template.objects.filter(factor=Factor.FINGER)
    if len(missing) < MOST_BY_ID:
        rows = rows.filter(pk__in=missing)
    for id_, text in rows.values_list("id", "sealed").iterator():
        if id_ in missing:
            with suppress(Invalid):  # a seal that cannot be opened matches nobody
                template = finger_in(unseal(text)).template
                prints[id_, missing[id_]] = prints_of(template.minutiae)
    known = _Known(Gallery({id_: item for (id_, _), item in prints.items()}), prints)
    _known = known
    return known.gallery
