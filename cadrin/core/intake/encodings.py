"""How the bytes of a text file stand for characters: guessed, said, and changed by whoever knows better."""

import codecs
from collections.abc import Mapping

from charset_normalizer import from_bytes

CODECS: Mapping[str, str] = {
    "UTF-8": "utf-8-sig",
    "UTF-16LE": "utf-16-le",
    "UTF-16BE": "utf-16-be",
    "windows-1252": "cp1252",
    "windows-1250": "cp1250",
    "windows-1251": "cp1251",
    "windows-1253": "cp1253",
    "windows-1254": "cp1254",
    "windows-1257": "cp1257",
    "ISO-8859-2": "iso8859-2",
    "ISO-8859-15": "iso8859-15",
    "macintosh": "mac-roman",
    "KOI8-R": "koi8-r",
    "IBM866": "cp866",
    "IBM850": "cp850",
}
"""Names as the WHATWG Encoding Standard has them (IBM850 as IANA has it), with Python's codec."""
_MARKS = (
    (codecs.BOM_UTF8, "UTF-8"),
    (codecs.BOM_UTF16_LE, "UTF-16LE"),
    (codecs.BOM_UTF16_BE, "UTF-16BE"),
)
_LOOKED_AT = 200_000
_USUAL = "windows-1252"


def guessed_encoding(data: bytes) -> str:
    """Return the encoding of a text by its byte order mark, or what its bytes look most like.

    >>> guessed_encoding("Zoë".encode("utf-16")), guessed_encoding("Zoë Norén, Søren".encode("cp1252"))
    ('UTF-16LE', 'windows-1252')
    """
    for mark, name in _MARKS:
        if data.startswith(mark):
            return name
    if is_utf8(data):
        return "UTF-8"
    start = data[:_LOOKED_AT]
    # in UTF-16 without a mark every other byte of a Western text is NUL
    for place, name in ((1, "UTF-16LE"), (0, "UTF-16BE")):
        if start[place::2].count(0) > len(start) // 4:
            return name
    found = from_bytes(start, cp_isolation=[codec.replace("-", "_") for codec in CODECS.values()])
    best = found.best()
    if best is None:
        return _USUAL
    # where several explain the bytes equally well, it is the one that most spreadsheets write
    as_usual = next((match for match in found if match.encoding == "cp1252"), None)
    if as_usual and as_usual.chaos <= best.chaos:
        return _USUAL
    named = {codec.replace("-", "_"): name for name, codec in CODECS.items()}
    return named.get(best.encoding, _USUAL)


def is_utf8(data: bytes) -> bool:
    """Say whether bytes are UTF-8, NUL excepted: no text has one."""
    try:
        data.decode("utf-8")
    except UnicodeDecodeError:
        return False
    return data[:_LOOKED_AT].count(0) <= len(data[:_LOOKED_AT]) // 4


def decoded(data: bytes, encoding: str) -> str:
    """Return the text without its byte order mark; what cannot be read is U+FFFD."""
    text = data.decode(CODECS[encoding], errors="replace")
    return text.removeprefix("\N{ZERO WIDTH NO-BREAK SPACE}")
