"""Names: what readers and lists show, and how a name is found however it is typed."""

import re
import unicodedata
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


def terms_of(*texts: str) -> frozenset[str]:
    """Return the words under which something is found by their beginnings.

    >>> sorted(terms_of("Anne-Marie", "o'Neil", "a.neil@station.example"))
    ['a.neil@station.example', 'anne', 'anne-marie', 'marie', 'neil', 'o']
    """
    words = {word for text in texts for word in _BETWEEN_TERMS.split(fold(text)) if word}
    parts = {part for word in words if "@" not in word for part in word.split("-") if part}
    return frozenset(words | parts)


def number_key(number: str) -> str:
    """Return the form in which cardholder numbers are unique: whatever the case and spaces; zeros
    count.

    >>> number_key(" s-00 12")
    'S-0012'
    """
    return "".join(unicodedata.normalize("NFKC", number).split()).upper()
