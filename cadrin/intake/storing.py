"""A file in pieces and its rows in blocks, sealed in the database and read back in order."""

import io
import zlib
from base64 import b64decode, b64encode
from collections.abc import Iterable, Iterator
from itertools import islice

import orjson
from django.db import transaction

from cadrin.core.intake.table import Cells
from cadrin.intake.models import ROWS_IN_A_BLOCK, IntakeBlock, IntakePiece
from cadrin.operators.sealing import seal, unseal

LIST, PHOTOS = "list", "photos"
_BYTES_IN_A_PIECE = 2**20


def keep_file(intake_id: int, part: str, data: bytes) -> None:
    """Keep a file, a piece in each transaction, so that nobody waits for all of it."""
    IntakePiece.objects.filter(intake_id=intake_id, part=part).delete()
    for place, start in enumerate(range(0, len(data), _BYTES_IN_A_PIECE)):
        IntakePiece.objects.create(
            intake_id=intake_id,
            part=part,
            place=place,
            sealed=_sealed(data[start : start + _BYTES_IN_A_PIECE]),
        )


def kept_file(intake_id: int, part: str) -> bytes:
    """Return a file as it was kept; empty where there is none."""
    pieces = IntakePiece.objects.filter(intake_id=intake_id, part=part).order_by("place")
    file = io.BytesIO()
    for sealed in pieces.values_list("sealed", flat=True).iterator(chunk_size=4):
        file.write(_unsealed(sealed))
    return file.getvalue()


def keep_rows(intake_id: int, rows: Iterable[Cells], first_row: int) -> int:
    """Keep rows in blocks in place of those that there were, and return how many blocks they are."""
    IntakeBlock.objects.filter(intake_id=intake_id).delete()
    source, place = iter(rows), 0
    while some := list(islice(source, ROWS_IN_A_BLOCK * 20)):
        with transaction.atomic():
            for start in range(0, len(some), ROWS_IN_A_BLOCK):
                IntakeBlock.objects.create(
                    intake_id=intake_id,
                    place=place,
                    first_row=first_row,
                    sealed=_sealed(orjson.dumps(some[start : start + ROWS_IN_A_BLOCK])),
                )
                place += 1
                first_row += ROWS_IN_A_BLOCK
    return place


def rows_in(block: IntakeBlock) -> list[Cells]:
    """Return the rows of a block, as they were read."""
    if not block.sealed:
        return []
    return list(map(tuple, orjson.loads(_unsealed(block.sealed))))


def _sealed(data: bytes) -> str:
    return seal(b64encode(zlib.compress(data, 1)).decode())


def _unsealed(sealed: str) -> bytes:
    return zlib.decompress(b64decode(unseal(sealed)))


def blocks_of(intake_id: int, first: int = 0) -> Iterator[IntakeBlock]:
    """Yield the blocks of an intake in order, from a place on, one at a time."""
    blocks = IntakeBlock.objects.filter(intake_id=intake_id, place__gte=first)
    yield from blocks.order_by("place").iterator(chunk_size=4)
