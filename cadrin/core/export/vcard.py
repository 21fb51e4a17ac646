"""A cardholder as vCard 4.0 (RFC 6350)."""

from collections.abc import Iterator
from dataclasses import dataclass

_LONGEST_LINE_OCTETS = 75


@dataclass(frozen=True, slots=True)
class Person:
    """What a vCard tells of a cardholder; empty is left out."""

    uid: str
    display_name: str
    first_name: str = ""
    last_name: str = ""
    company: str = ""
    department: str = ""
    title: str = ""
    email: str = ""
    phones: tuple[str, ...] = ()
    language: str = ""


def escaped(text: str) -> str:
    """Escape a value (RFC 6350, 3.4).

    >>> escaped("Harl; Tway, and so on")
    'Harl\\\\; Tway\\\\, and so on'
    """
    for plain, written in (
        ("\\", "\\\\"),
        (";", "\\;"),
        (",", "\\,"),
        ("\r\n", "\\n"),
        ("\n", "\\n"),
        ("\r", "\\n"),
    ):
        text = text.replace(plain, written)
    return text


def folded(line: str) -> str:
    """Fold a line at 75 octets, never within a character (RFC 6350, 3.2), and end it."""
    pieces, length = [""], 0
    for character in line:
        octets = len(character.encode())
        if length + octets > _LONGEST_LINE_OCTETS:
            pieces.append("")
            length = 1  # the space that begins it
        pieces[-1] += character
        length += octets
    return "\r\n ".join(pieces) + "\r\n"


def vcard(person: Person) -> str:
    """Write one vCard."""
    return "".join(folded(line) for line in _lines(person))


def _lines(person: Person) -> Iterator[str]:
    yield "BEGIN:VCARD"
    yield "VERSION:4.0"
    yield f"UID;VALUE=text:{escaped(person.uid)}"
    yield f"FN:{escaped(person.display_name)}"
    yield f"N:{escaped(person.last_name)};{escaped(person.first_name)};;;"
    if person.company or person.department:
        yield f"ORG:{escaped(person.company)};{escaped(person.department)}"
    for name, value in (
        ("TITLE", person.title),
        ("EMAIL", person.email),
        ("LANG", person.language),
    ):
        if value:
            yield f"{name}:{escaped(value)}"
    for phone in person.phones:
        yield f"TEL;VALUE=uri:tel:{phone.replace(' ', '-')}"
    yield "END:VCARD"
