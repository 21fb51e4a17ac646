"""Exports, read by readers that are not ours: csv, openpyxl, json and vobject."""

import csv
import io
import json
from unittest import TestCase

import vobject
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from cadrin.core.export.tables import (
    Column,
    as_written,
    csv_chunks,
    harmless,
    json_chunks,
    write_xlsx,
)
from cadrin.core.export.vcard import Person, escaped, folded, vcard

COLUMNS = (Column("number", "Number"), Column("name", "Name"))
ROWS = [
    ("007", "=HYPERLINK(1)"),
    ("8", 'Ö "the" Reve, Zoë'),
    ("+44 1632 960001", "-2+3"),
    ("", "two\nlines"),
]
# what makes a spreadsheet take a cell for a formula: OWASP, "CSV Injection"
RISKY = ("=1+1", "+1", "-1+1", "@SUM(A1)", "\t=1", "\r=1")


class Tables(TestCase):
    def test_a_csv_is_read_back_as_it_was(self) -> None:
        text = "".join(csv_chunks(COLUMNS, ROWS))

        read = list(csv.reader(io.StringIO(text.removeprefix("\ufeff"), newline="")))

        self.assertTrue(text.startswith("\ufeff"))
        self.assertEqual(read[0], ["Number", "Name"])
        self.assertEqual([tuple(as_written(cell) for cell in row) for row in read[1:]], ROWS)

    def test_no_cell_begins_like_a_formula(self) -> None:
        for text in RISKY:
            with self.subTest(repr(text)):
                self.assertNotIn(harmless(text)[0], "=+-@\t\r")

    @given(st.text())
    def test_what_was_made_harmless_is_given_back(self, text: str) -> None:
        self.assertEqual(as_written(harmless(text)), text)

    def test_a_workbook_has_texts_and_no_formulas(self) -> None:
        file = io.BytesIO()
        write_xlsx(COLUMNS, ROWS, file)

        sheet = load_workbook(file).active

        assert sheet is not None
        cells = list(sheet.iter_rows())
        self.assertEqual(
            [[cell.value or "" for cell in row] for row in cells[1:]], [list(row) for row in ROWS]
        )
        self.assertEqual({cell.data_type for row in cells for cell in row if cell.value}, {"s"})

    def test_json_has_the_keys_of_the_columns(self) -> None:
        self.assertEqual(
            json.loads("".join(json_chunks(COLUMNS, ROWS)))[0],
            {"number": "007", "name": "=HYPERLINK(1)"},
        )
        self.assertEqual(json.loads("".join(json_chunks(COLUMNS, []))), [])


class VCards(TestCase):
    def test_are_read_by_a_reader_of_others(self) -> None:
        person = Person(
            "S-1", "Zoë Reve; Jr.", "Zoë", "Reve, Sr.", "Harl & Tway", "Wet Lab", "Diver",
            "z@skerrow.example",
            ("+44 1632 960001", "+47 22 12 34 56"), "nb",
        )  # fmt: skip

        read = vobject.readOne(vcard(person))

        self.assertEqual(read.version.value, "4.0")
        self.assertEqual(read.fn.value, "Zoë Reve; Jr.")
        self.assertEqual((read.n.value.family, read.n.value.given), ("Reve, Sr.", "Zoë"))
        self.assertEqual(read.org.value, ["Harl & Tway", "Wet Lab"])
        self.assertEqual(
            [one.value for one in read.tel_list], ["tel:+44-1632-960001", "tel:+47-22-12-34-56"]
        )

    def test_the_example_of_the_standard_is_escaped_as_it_says(self) -> None:
        # RFC 6350, 3.4: comma, semicolon, backslash and newline
        self.assertEqual(escaped("a,b;c\\d\ne"), "a\\,b\\;c\\\\d\\ne")

    @given(st.text(alphabet=st.characters(exclude_categories=["Cs", "Cc"])))
    def test_lines_are_folded_and_unfold_to_what_they_were(self, text: str) -> None:
        written = folded(text)

        self.assertEqual(written.removesuffix("\r\n").replace("\r\n ", ""), text)
        self.assertLessEqual(max(len(line.encode()) for line in written.split("\r\n")), 75)
