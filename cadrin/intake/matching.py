"""Whom the rows of a list are about: people who are there, or newcomers."""

import re
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from cadrin.core.intake.assembling import names_in
from cadrin.core.intake.choices import Choices, MatchBy
from cadrin.core.intake.targets import OWN, Target
from cadrin.core.people.custom_fields import CustomField, sort_key
from cadrin.core.people.names import fold, number_key, sort_name
from cadrin.credentials.queries import holders_of_cards
from cadrin.intake.understanding import RowSaid
from cadrin.operators.actor import Actor
from cadrin.people.finding import (
    Found,
    by_custom_field,
    by_email,
    by_external_id,
    by_name,
    by_name_and_birth,
    by_number,
)
from cadrin.people.scoping import only_seen

Key = Any
"""What a row is matched by, as it is compared."""


def key_of(row: RowSaid, choices: Choices, fields: Mapping[int, CustomField]) -> Key | None:
    """Return what a row is matched by, or None where it has nothing of the kind."""
    said = row.values
    if choices.match_field:
        value = said.get(f"{OWN}{choices.match_field}")
        field = fields.get(choices.match_field)
        return sort_key(field, value) if value and field else None
    match choices.match_by:
        case MatchBy.NUMBER:
            return number_key(said.get(Target.NUMBER, "")) or None
        case MatchBy.EXTERNAL_ID:
            return said.get(Target.EXTERNAL_ID)
        case MatchBy.EMAIL:
            return fold(said.get(Target.EMAIL, "")) or None
        case MatchBy.CARD:
            return next(iter(said.get(Target.CARD, ())), None)
        case MatchBy.NAME_AND_BIRTH:
            first, last = name_of(said)
            born_on = said.get(Target.BORN_ON)
            return (sort_name(first, last), born_on) if born_on and last else None
        case MatchBy.PHOTO:
            return said.get(Target.PHOTO)
        case MatchBy.NOBODY:
            return None


def name_of(said: Mapping[str, Any]) -> tuple[str, str]:
    """Return first and last name, however the file writes them."""
    first, last = names_in(said.get(Target.FULL_NAME, ""))
    return said.get(Target.FIRST_NAME, first), said.get(Target.LAST_NAME, last)


def people_by_key(actor: Actor, choices: Choices, keys: Iterable[Key]) -> Found:
    """Return whom the keys of some rows mean."""
    wanted = list(dict.fromkeys(keys))
    if not wanted:
        return {}
    if choices.match_field:
        return by_custom_field(actor, choices.match_field, wanted)
    match choices.match_by:
        case MatchBy.NUMBER:
            return by_number(actor, wanted)
        case MatchBy.EXTERNAL_ID:
            return by_external_id(actor, wanted)
        case MatchBy.EMAIL:
            return by_email(actor, wanted)
        case MatchBy.CARD:
            holders = holders_of_cards(wanted)
            seen = only_seen(actor, holders.values())
            return {key: [id_] for key, id_ in holders.items() if id_ in seen}
        case MatchBy.NAME_AND_BIRTH:
            return by_name_and_birth(actor, wanted)
        case MatchBy.PHOTO:
            return _by_photo(actor, wanted)
        case MatchBy.NOBODY:
            return {}


def _by_photo(actor: Actor, files: Sequence[str]) -> Found:
    """Return whom pictures are called by: their number, their address, or else their name."""
    stems = {file: file.rpartition(".")[0] or file for file in files}
    numbers = by_number(actor, map(number_key, stems.values()))
    emails = by_email(actor, map(fold, stems.values()))
    names = by_name(actor, (name for stem in stems.values() for name in names_called(stem)))
    return {
        file: numbers.get(number_key(stem))
        or emails.get(fold(stem))
        or list(dict.fromkeys(id_ for name in names_called(stem) for id_ in names.get(name, ())))
        for file, stem in stems.items()
    }


def names_called(stem: str) -> tuple[str, ...]:
    """Return the names that a picture's may stand for, as names are put in order.

    >>> names_called("mara_lindqvist")
    ('lindqvist mara', 'mara lindqvist')
    """
    first, last = names_in(" ".join(re.split(r"[\s_.]+", stem.strip())))
    return tuple(dict.fromkeys((sort_name(first, last), sort_name(last, first))))


def column_of_key(choices: Choices) -> int:
    """Return the column that people are matched by, where a fault with it is shown; -1 for none."""
    target: Sequence[str] = {
        MatchBy.NUMBER: (Target.NUMBER,),
        MatchBy.EXTERNAL_ID: (Target.EXTERNAL_ID,),
        MatchBy.EMAIL: (Target.EMAIL,),
        MatchBy.CARD: (Target.CARD, Target.CARD_NUMBER),
        MatchBy.NAME_AND_BIRTH: (Target.BORN_ON,),
        MatchBy.PHOTO: (Target.PHOTO,),
        MatchBy.NOBODY: (),
    }[choices.match_by]
    if choices.match_field:
        target = (f"{OWN}{choices.match_field}",)
    found = (choices.column_for(name) for name in target)
    return next((column for column in found if column is not None), -1)
