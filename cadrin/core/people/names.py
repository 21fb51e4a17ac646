"""Names: what readers and lists show, and how a name is found however it is typed."""

import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

import regex


class DisplayRule(StrEnum):
    """The site's rule for display names."""

    INITIAL_LAST = "initial_last"
    FIRST_LAST = "first_last"
    LAST_FIRST = "last_first"


_CHARACTER = regex.compile(r"\X")


def characters(text: str) -> list[str]:
    """Return what a reader of the text takes for its characters: grapheme clusters (UAX #29).

    >>> len("e\N{COMBINING ACUTE ACCENT}"), len(characters("e\N{COMBINING ACUTE ACCENT}"))
    (2, 1)
    """
    return _CHARACTER.findall(text)


def cut(text: str, longest: int) -> str:
    """Return the beginning of a text, at most ``longest`` code points, without breaking a
    character.

    >>> cut("Zoë", 3), cut("Zoe\N{COMBINING DIAERESIS}", 3)
    ('Zoë', 'Zo')
    """
    if len(text) <= longest:
        return text.rstrip()
    kept = ""
    for character in characters(text):
        if len(kept) + len(character) > longest:
            break
        kept += character
    return kept.rstrip()


@dataclass(frozen=True, slots=True)
class NameRule:
    """How a site shows names, and how many code points of one its controllers can show."""

    rule: DisplayRule = DisplayRule.FIRST_LAST
    longest: int = 60

    def shown(self, first: str, last: str, override: str = "") -> str:
        """Return the display name: what was set for the person, else what the rule makes; cut to
        what can be shown.
        """
        return cut(
            override.strip() or display_name(first.strip(), last.strip(), self.rule), self.longest
        )


def display_name(first: str, last: str, rule: DisplayRule = DisplayRule.FIRST_LAST) -> str:
    """Return the display name, of any length.

    >>> display_name("Mara", "Lindqvist", DisplayRule.INITIAL_LAST)
    'M. Lindqvist'
    >>> display_name("", "Lindqvist", DisplayRule.LAST_FIRST)
    'Lindqvist'
    """
    if not first or not last:
        return first or last
    match rule:
        case DisplayRule.INITIAL_LAST:
            return f"{characters(first)[0]}. {last}"
        case DisplayRule.FIRST_LAST:
            return f"{first} {last}"
        case DisplayRule.LAST_FIRST:
            return f"{last}, {first}"


_OTHER_LETTERS = str.maketrans(
    {"ø": "o", "đ": "d", "ł": "l", "æ": "ae", "œ": "oe", "þ": "th", "ð": "d", "ı": "i"}  # noqa: RUF001
)
_BETWEEN_TERMS = re.compile(r"[^\w@.+-]+|(?<!\w)[.+-]|[.+-](?!\w)")


def fold(text: str) -> str:
    """Return the form in which texts are compared: no case, no accents, one kind of space (UAX #15,
    NFKD).

    >>> fold("  Zoë  ÅNGSTRÖM-Łuk ")
    'zoe angstrom-luk'
    """
    if text.isascii():  # most are, and have nothing to take off
        return " ".join(text.lower().split())
    bare = "".join(
        c for c in unicodedata.normalize("NFKD", text.casefold()) if not unicodedata.combining(c)
    )
    return " ".join(bare.translate(_OTHER_LETTERS).split())


LONGEST_SORT_NAME = 310
"""Code points of a sort name that are kept."""


def sort_name(first: str, last: str) -> str:
    """Return the form by which names are put in order, and are the same.

    >>> sort_name("Zoë", "Lindqvist")
    'lindqvist zoe'
    """
    return fold(f"{last} {first}")[:LONGEST_SORT_NAME]


_APOSTROPHES = re.compile(
    "['\N{RIGHT SINGLE QUOTATION MARK}\N{LEFT SINGLE QUOTATION MARK}"
    "\N{MODIFIER LETTER APOSTROPHE}`\N{ACUTE ACCENT}]"
)
_ALSO_WRITTEN = str.maketrans({"ä": "ae", "ö": "oe", "ü": "ue", "å": "aa", "ø": "oe", "đ": "dj"})
"""How people write letters that their keyboard has not: DIN 5007-2 for umlauts, else common practice."""
_ZEROS_BEFORE = re.compile(r"(?<![^-])0+(?=\d)")
_DIGITS = re.compile(r"\d+(?:-\d+)?")


def terms_of(*texts: str) -> frozenset[str]:
    """Return the words under which something is found by their beginnings.

    >>> sorted(terms_of("Anne-Marie", "o'Neil", "a.neil@station.example"))
    ['a.neil@station.example', 'anne', 'anne-marie', 'marie', 'neil', 'o', 'oneil']
    >>> sorted(terms_of("Jörg"))
    ['joerg', 'jorg']
    """
    spellings = {
        fold(spelling)
        for text in texts
        for plain in (text, _APOSTROPHES.sub("", text))
        for spelling in (plain, _also_written(plain))
    }
    words = {word for text in spellings for word in _BETWEEN_TERMS.split(text) if word}
    parts = {part for word in words if "@" not in word for part in word.split("-") if part}
    return frozenset(words | parts)


def _also_written(text: str) -> str:
    if text.isascii():
        return text
    return unicodedata.normalize("NFC", text.casefold()).translate(_ALSO_WRITTEN)


def terms_of_cards(cards: Iterable[tuple[int, int]]) -> set[str]:
    """Return the words under which a holder is found by facility codes and card numbers: the number,
    and both as they are printed on a card.
    """
    return {term for code, number in cards for term in (f"{number}", f"{code}-{number}")}


def words_meant(text: str, most: int = 5) -> list[frozenset[str]]:
    """Return, for each word that was typed, the beginnings of terms that it may mean; zeros before
    a number may be left out or not, as on a card.

    >>> [sorted(one) for one in words_meant("O'Neil 087-04628")]
    [['oneil'], ['087-04628', '87-4628']]
    """
    return [
        frozenset({word, _ZEROS_BEFORE.sub("", word)} if _DIGITS.fullmatch(word) else {word})
        for word in fold(_APOSTROPHES.sub("", text)).split()[:most]
    ]


def number_key(number: str) -> str:
    """Return the form in which cardholder numbers are unique: whatever the case and spaces; zeros
    count.

    >>> number_key(" s-00 12")
    'S-0012'
    """
    return "".join(unicodedata.normalize("NFKC", number).split()).upper()
