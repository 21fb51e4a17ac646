"""Characters that show nothing, or turn round what follows: a name with one looks like another
name.
"""

import re
from collections.abc import Iterator

INVISIBLE = re.compile(
    "[\u0000-\u001f\u007f-\u009f\u00ad\u061c\u200b-\u200f\u202a-\u202e\u2060-\u2069\ufeff]"
)
_INVISIBLE_IN_LINES = re.compile(
    INVISIBLE.pattern.replace("\u0000-\u001f", "\u0000-\u0008\u000b\u000c\u000e-\u001f")
)
OF_SEVERAL_LINES = frozenset({"remarks", "reason", "help"})
"""Names of the fields in which lines may end."""


def has_invisible(text: str, *, in_lines: bool = False) -> bool:
    """Say whether a text has a character that nobody sees; ``in_lines`` it may have tabs and ends
    of lines.
    """
    return bool((_INVISIBLE_IN_LINES if in_lines else INVISIBLE).search(text))


def fields_with_invisible(
    values: object, path: str = "", *, in_lines: bool = False
) -> Iterator[str]:
    """Yield the paths of all texts with such a character, in whatever was sent.

    >>> list(fields_with_invisible({"name": "Sker\\u200brow", "choices": [{"label": "a\\tb"}], "remarks": "a\\nb"}))
    ['name', 'choices.0.label']
    """
    if isinstance(values, str):
        if has_invisible(values, in_lines=in_lines):
            yield path
    elif isinstance(values, dict):
        for name, inner in values.items():
            yield from fields_with_invisible(
                inner, f"{path}.{name}".strip("."), in_lines=name in OF_SEVERAL_LINES or in_lines
            )
    elif isinstance(values, list):
        for place, inner in enumerate(values):
            yield from fields_with_invisible(inner, f"{path}.{place}", in_lines=in_lines)
