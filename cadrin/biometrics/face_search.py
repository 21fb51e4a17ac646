"""Look a face up among everybody's: whose it is already."""

from collections.abc import Iterable
from contextlib import suppress
from typing import NamedTuple

from cadrin.biometrics.models import Template
from cadrin.biometrics.settings import face_rule
from cadrin.core.credentials.face.search import nearest_faces
from cadrin.core.credentials.face.template import FaceTemplate, face_in
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid
from cadrin.operators.sealing import unseal

_known: dict[tuple[int, str], FaceTemplate] = {}
"""Faces that were opened before, by id and as they are sealed; none that is gone."""


class FoundFace(NamedTuple):
    """Whose face it is already."""

    holder_id: int
    distance: float


def search_all_faces(face: FaceTemplate, besides: int | None = None) -> list[FoundFace]:
    """Return whose face this is, the nearest first, without one cardholder's own."""
    global _known
    rows = list(
        Template.objects.filter(factor=Factor.FACE).values_list("id", "holder_id", "sealed")
    )
    wanted = {(id_, sealed) for id_, _, sealed in rows}
    before = _known  # threads look things up beside each other: it is replaced, never changed
    known = {key: before[key] for key in wanted & before.keys()}
    known |= _opened(wanted - known.keys())
    _known = known
    holder_of = {id_: holder_id for id_, holder_id, _ in rows if holder_id != besides}
    numbers = {key[0]: found.numbers for key, found in known.items() if key[0] in holder_of}
    near = nearest_faces(face.numbers, numbers, face_rule().match)
    return [FoundFace(holder_of[found.key], found.distance) for found in near]


def faces_of(holder_id: int, ids: Iterable[int]) -> list[FaceTemplate]:
    """Return those faces of a cardholder."""
    rows = Template.objects.filter(factor=Factor.FACE, holder_id=holder_id, pk__in=list(ids))
    return list(_opened(rows.values_list("id", "sealed")).values())


def _opened(rows: Iterable[tuple[int, str]]) -> dict[tuple[int, str], FaceTemplate]:
    found = {}
    for id_, sealed in rows:
        with suppress(Invalid):  # a seal that cannot be opened matches nobody
            found[id_, sealed] = face_in(unseal(sealed))
    return found
