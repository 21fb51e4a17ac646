"""Every message in every language: none is missing, each has the same places to fill and the same
forms.
"""

import re
from pathlib import Path
from unittest import TestCase

from django.conf import settings

from cadrin.desk.journal import ACTS
from cadrin.operators.permissions import READY_MADE, Permission
from cadrin.register.export import COLUMNS

WORDS = Path(settings.ROOT, "web/src/words")
LANGUAGES = ("en", "de")
PARTS = ("first", "rest")
"""What is needed at once, and what is fetched behind it."""


def messages(language: str) -> dict[str, str]:
    """Read a catalogue as Prettier writes it: the path of each message to its text."""
    found: dict[str, str] = {}
    for file in sorted(WORDS.joinpath(language).glob("*.ts")):
        # one message a line: Prettier puts a long text onto the next
        text = re.sub(r":\n\s+(['\"`])", r": \1", file.read_text())
        path: list[str] = []
        for line in text.splitlines():
            if opened := re.match(r"^export const (\w+)[^=]*= \{$", line):
                path = [file.stem] if opened[1] in PARTS else [file.stem, opened[1]]
                continue
            within: list[str] = []
            for one in re.finditer(r"(?:'([^']+)'|(\w+)): (\{|\[)?(?:'((?:[^'\\]|\\.)*)')?", line):
                name, opens, message = one[1] or one[2], one[3], one[4]
                if opens == "{" and not line.rstrip().endswith("},"):
                    path.append(name)
                elif opens == "{":
                    within = [name]
                elif opens != "[" and message is not None:
                    found[".".join([*path, *within, name])] = message
            if re.match(r"^\s+\},?$", line):
                path.pop()
    return found


SAID_ALIKE = {
    "all", "begin", "diagram", "first", "free", "gone", "held", "mergeHint", "missing", "mistaken",
    "more", "moreThan", "ofSelected", "proposalCloses", "same", "seconds", "secondsLeft",
    "selectAll", "selected", "too_much_since", "waits", "willChange",
}  # fmt: skip
"""Messages with a count that are the same for one and for many, by the end of their key."""
PUT_TOGETHER = re.compile(r"_elsewhere$|_missing$|Dated$|^password_too_|^face_|[ -]")
"""Ends of keys that are put together where they are used, or are names that operators may change."""


class Words(TestCase):
    def setUp(self) -> None:
        self.of = {language: messages(language) for language in LANGUAGES}

    def test_are_there_in_every_language(self) -> None:
        self.assertGreater(len(self.of["en"]), 900)
        for language in LANGUAGES:
            self.assertEqual(set(self.of[language]) ^ set(self.of["en"]), set(), language)

    def test_have_the_same_places_and_forms_in_every_language(self) -> None:
        for key, english in self.of["en"].items():
            german = self.of["de"][key]
            with self.subTest(key):
                self.assertEqual(
                    set(re.findall(r"\{\w+\}", german)), set(re.findall(r"\{\w+\}", english))
                )
                self.assertEqual(german.count(" | "), english.count(" | "))
                self.assertEqual(bool(german), bool(english))

    def test_with_a_count_have_a_form_for_one(self) -> None:
        for language in LANGUAGES:
            bare = {
                key
                for key, message in self.of[language].items()
                if "{count}" in message and " | " not in message
            }
            self.assertEqual({k for k in bare if k.rpartition(".")[2] not in SAID_ALIKE}, set())

    def test_are_there_wherever_a_screen_asks_for_one(self) -> None:
        there = {key.partition(".")[2].replace("rules.", "groupRules.", 1) for key in self.of["en"]}
        there |= {key.partition(".")[2] for key in self.of["en"]}
        screens = (
            file
            for file in Path(settings.ROOT, "web/src").rglob("*")
            if file.suffix in (".vue", ".ts")
        )
        asked = {
            key
            for file in screens
            for key in re.findall(r"""(?:\bt\(\s*'|keypath=")([^'"]+)""", file.read_text())
        }

        self.assertGreater(len(asked), 700)
        self.assertEqual(asked - there, set())

    def test_are_all_used_somewhere(self) -> None:
        front = (
            file
            for file in Path(settings.ROOT, "web/src").rglob("*")
            if file.suffix in (".vue", ".ts") and WORDS not in file.parents
        )
        behind = (f for f in Path(settings.ROOT, "cadrin").rglob("*.py") if "tests" not in f.parts)
        named: set[str] = set()
        for file in (*front, *behind):
            named |= set(re.findall(r"[A-Za-z_]\w*", file.read_text()))
        ends = {key: key.rpartition(".")[2] for key in self.of["en"]}

        unused = {k for k, end in ends.items() if end not in named and not PUT_TOGETHER.search(end)}
        self.assertEqual(unused, set())

    def test_were_translated(self) -> None:
        same = [
            key
            for key, english in self.of["en"].items()
            if self.of["de"][key] == english and len(english.split()) > 2 and key != "index.changed"
        ]

        self.assertEqual(same, [])

    def test_are_there_for_every_code_that_the_server_gives(self) -> None:
        """A code that nobody has words for would be shown as it is."""
        codes, acts = set(), set()
        for file in Path(settings.ROOT, "cadrin").rglob("*.py"):
            if "tests" not in file.parts:
                text = file.read_text()
                codes |= set(
                    re.findall(r"""(?:Problem|\.of|Refused)\(\s*"([a-z_]+\.[a-z_]+)\"""", text)
                )
                acts |= set(re.findall(r"""Act\(\s*"([a-z_]+\.[a-z_]+)\"""", text))
        known = {key.rpartition("roblems.")[2] for key in self.of["en"] if "roblems." in key}
        known_acts = {key.rpartition("ctions.")[2] for key in self.of["en"] if "ctions." in key}

        # formats of cards are set up with the house, not by an operator
        self.assertEqual({code for code in codes if not code.startswith("format.")} - known, set())
        self.assertEqual(acts - known_acts, set())

    def test_are_there_for_every_permission_role_and_kind_of_act(self) -> None:
        for prefix, names in {
            "accounts.permissions": set(Permission),
            "accounts.admin.roleNames": set(READY_MADE),
            "accounts.journal.acts": set(ACTS),
        }.items():
            with self.subTest(prefix):
                found = {
                    key.removeprefix(f"{prefix}.")
                    for key in self.of["en"]
                    if key.startswith(f"{prefix}.")
                }
                self.assertEqual(found, names)

    def test_head_every_column_of_an_export(self) -> None:
        for key, headings in COLUMNS.items():
            with self.subTest(key):
                self.assertEqual(set(headings), set(LANGUAGES))
