"""Look a face up among everybody's: whose it is already."""

from collections.abc import Iterable
from typing import NamedTuple

from cadrin.biometrics.models import Template
from cadrin.biometrics.settings import face_rule
from cadrin.core.credentials.face.search import nearest_faces
from cadrin.core.credentials.face.template import FaceTemplate, face_in
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid
from cadrin.operators.sealing import unseal

_known: dict[tuple[int, str], FaceTemplate] = {}
"""Faces that were opened before, by id and as they are sealed."""


class FoundFace(NamedTuple):
    """Whose face it is already."""

    holder_id: int
    distance: float


def search_all_faces(face: FaceTemplate, besides: int | None = None) -> list[FoundFace]:
    """Return whose face this is, the nearest first, without one cardholder's own."""
    rows = list(
        Template.objects.filter(factor=Factor.FACE)
        .exclude(holder_id=besides or 0)
        .values_list("id", "holder_id", "sealed")
    )
    faces = _opened((id_, sealed) for id_, _, sealed in rows)
    holder_of = {id_: holder_id for id_, holder_id, _ in rows}
    numbers = {id_: found.numbers for id_, found in faces.items()}
    near = nearest_faces(face.numbers, numbers, face_rule().match)
    return [FoundFace(holder_of[found.key], found.distance) for found in near]


def faces_of(holder_id: int, ids: Iterable[int]) -> list[FaceTemplate]:
    """Return those faces of a cardholder."""
    rows = Template.objects.filter(factor=Factor.FACE, holder_id=holder_id, pk__in=list(ids))
    return list(_opened(rows.values_list("id", "sealed")).values())


def _opened(rows: Iterable[tuple[int, str]]) -> dict[int, FaceTemplate]:
    """Open faces; only those that are new are unsealed."""
    wanted = set(rows)
    for gone in _known.keys() - wanted:
        if gone[0] in {id_ for id_, _ in wanted}:
            _known.pop(gone, None)
    for key in wanted - _known.keys():
        try:
            _known[key] = face_in(unseal(key[1]))
        except Invalid:  # a seal that cannot be opened matches nobody
            continue
    return {key[0]: _known[key] for key in wanted if key in _known}
