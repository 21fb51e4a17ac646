"""The number detective: every card that explains a number somebody has in hand, best first, and
why.

A number may be printed on a card, stand on a box, be shown by another system, or be a raw read.
Whatever a text is read as is written again in the same way: only what comes out the same explains
it.
"""

from collections.abc import Iterable, Mapping
from typing import NamedTuple

from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import CardNumbers, DecodeFault, RawRead
from cadrin.core.credentials.card.signs import WEIGHTS, KnownHere, Sign, signs_of
from cadrin.core.credentials.card.writings import COMMONEST_FIRST, Writing, readings_of


class Clue(NamedTuple):
    """A raw read, or a text as somebody reads it out."""

    raw: RawRead | None = None
    text: str = ""


class Explanation(NamedTuple):
    """A card that explains every clue: how each was written, whether the read had to be turned, and
    the signs.
    """

    format_id: int
    numbers: CardNumbers
    writings: tuple[Writing, ...]
    turned: str
    signs: tuple[Sign, ...]

    @property
    def weight(self) -> int:
        return sum(WEIGHTS[sign] for sign in self.signs)

    @property
    def speaks_for(self) -> tuple[Sign, ...]:
        return tuple(sign for sign in self.signs if WEIGHTS[sign] > 0)

    @property
    def speaks_against(self) -> tuple[Sign, ...]:
        return tuple(sign for sign in self.signs if WEIGHTS[sign] < 0)


def investigate(
    clues: Iterable[Clue], formats: Mapping[int, CardFormat], known: KnownHere, most: int = 12
) -> tuple[Explanation, ...]:
    """Return the cards that explain every clue at once, the likeliest first; none when nothing
    does.
    """
    asked = [clue for clue in clues if clue.raw or clue.text.strip()]
    if not asked:
        return ()
    found = [
        explanation
        for format_id, card_format in formats.items()
        for explanation in _of_format(asked, format_id, card_format, known)
    ]
    # what is printed on a card is far more often its number than all of its bits
    found.sort(
        key=lambda item: (
            -item.weight,
            sum(map(COMMONEST_FIRST.index, item.writings)),
            item.format_id,
            item.numbers,
        )
    )
    return tuple(found[:most])


def _of_format(
    clues: list[Clue], format_id: int, card_format: CardFormat, known: KnownHere
) -> Iterable[Explanation]:
    codes = known.facility_codes_of(format_id)
    facilities = sorted(codes) if card_format.facility_code else [0]
    # where no facility code is known here, a number alone still explains a card of each format
    tried = facilities or [0]
    together: dict[CardNumbers, list[Writing | str]] | None = None
    for clue in clues:
        here: dict[CardNumbers, Writing | str] = {}
        if clue.raw:
            here |= decoded(clue.raw, card_format)
            tried = sorted({*tried, *(numbers.facility_code for numbers in here)})
        else:
            if together:
                tried = sorted({*tried, *(numbers.facility_code for numbers in together)})
            here |= readings_of(clue.text, card_format, tried)
        if together is None:
            together = {numbers: [way] for numbers, way in here.items()}
        else:
            together = {
                numbers: [*ways, here[numbers]]
                for numbers, ways in together.items()
                if numbers in here
            }
    for numbers, ways in (together or {}).items():
        turned = next((way for way in ways if way in ("reversed", "inverted")), "")
        writings = tuple(way for way in ways if isinstance(way, Writing))
        signs = tuple(
            signs_of(
                format_id,
                card_format,
                numbers,
                known,
                turned,
                writings,
                has_raw=any(c.raw for c in clues),
            )
        )
        yield Explanation(format_id, numbers, writings, turned, signs)


def decoded(raw: RawRead, card_format: CardFormat) -> dict[CardNumbers, str]:
    """Return the card a raw read is in a format: as it was sent, or else with its bits turned
    around.
    """
    for turned, read in (("", raw), ("reversed", raw.reversed()), ("inverted", raw.inverted())):
        found = card_format.decode(read)
        # without a check every read can be turned into some card, and that explains nothing
        if not isinstance(found, DecodeFault) and (not turned or card_format.parity):
            return {found: turned}
    return {}
