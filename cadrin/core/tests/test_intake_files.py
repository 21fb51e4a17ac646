"""Files become tables: delimited text, workbooks, JSON, vCard, LDIF, and what is none of them."""

import csv
import io
import zipfile
from collections.abc import Iterable
from datetime import date, datetime
from typing import Any
from unittest import TestCase

import openpyxl
import vobject
import webencodings
import xlwt
from hypothesis import given
from hypothesis import strategies as st
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table as OdfTable
from odf.table import TableCell, TableRow
from odf.text import P
from openpyxl.utils.datetime import CALENDAR_MAC_1904, CALENDAR_WINDOWS_1900

from cadrin.core.errors import Invalid
from cadrin.core.export.vcard import Person, vcard
from cadrin.core.intake.encodings import CODECS, decoded, guessed_encoding
from cadrin.core.intake.reading import read_table
from cadrin.core.intake.table import FileKind, ReadingChoices, Table
from cadrin.core.intake.workbooks import OLE

ANYHOW = ReadingChoices()
ROWS = [["Number", "Name"], ["S-1", "Reve"], ["S-2", "Lindqvist"]]


def rows(data: bytes, choices: ReadingChoices = ANYHOW) -> list[list[str]]:
    return [list(row) for row in read_table(data, choices).rows]


def codes(table: Table) -> list[str]:
    return [note.code for note in table.notes]


def refusal(data: bytes) -> str:
    try:
        list(read_table(data, ANYHOW).rows)
    except Invalid as error:
        return error.code
    return ""


class DelimitedText(TestCase):
    def test_any_delimiter_and_line_ending_gives_the_same_rows(self) -> None:
        for delimiter in ",;\t|~^":
            for ending in ("\n", "\r\n", "\r"):
                text = ending.join(delimiter.join(row) for row in ROWS)
                with self.subTest(delimiter=delimiter, ending=ending):
                    self.assertEqual(rows(text.encode()), ROWS)

    def test_what_rfc_4180_leaves_open_is_read_as_it_was_meant(self) -> None:
        cases = {
            "quoted delimiter, quote and line end (2.6, 2.7)": (
                b'a,b\r\n"x,y","say ""hi""\r\nagain"\r\n', [["a", "b"], ["x,y", 'say "hi"\r\nagain']],
            ),
            "no line end at the end (2.2)": (b"a,b\r\nc,d", [["a", "b"], ["c", "d"]]),
            "spaces belong to the field (2.4)": (b"a,b\r\n c ,d\r\n", [["a", "b"], [" c ", "d"]]),
            "a space before the quote": (b'a,b\r\nc, "d,e"\r\n', [["a", "b"], ["c", "d,e"]]),
            "single quotes": (b"a;b\n'x;y';'z'\n'1';'2'\n", [["a", "b"], ["x;y", "z"], ["1", "2"]]),
            "rows of different length": (b"a,b,c\nd\ne,f,g\n", [["a", "b", "c"], ["d"], ["e", "f", "g"]]),
            "a spreadsheet says its delimiter": (b"sep=|\r\na|b\r\n", [["a", "b"]]),
            "one column": (b"Number\nS-1\nS-2\n", [["Number"], ["S-1"], ["S-2"]]),
        }  # fmt: skip
        for name, (data, expected) in cases.items():
            with self.subTest(name):
                self.assertEqual(rows(data), expected)

    @given(
        st.lists(
            st.lists(
                st.text(st.characters(exclude_categories=["Cs"], exclude_characters="\0\r")),
                min_size=2,
                max_size=4,
            ),
            min_size=2,
            max_size=6,
        ),
        st.sampled_from(",;\t|"),
    )
    def test_what_a_writer_wrote_with_quotes_is_read_back(
        self, table: list[list[str]], delimiter: str
    ) -> None:
        text = io.StringIO()
        csv.writer(text, delimiter=delimiter, quoting=csv.QUOTE_ALL).writerows(table)

        read = rows(
            text.getvalue().encode("utf-8-sig"),
            ReadingChoices(delimiter=delimiter, encoding="UTF-8"),
        )

        self.assertEqual(read, table)

    def test_encodings_are_those_of_the_whatwg_standard(self) -> None:
        """https://encoding.spec.whatwg.org, by the labels of the webencodings package."""
        letters = bytes(range(0xA0, 0x100))
        for name, codec in CODECS.items():
            known = webencodings.lookup(name)
            if known and not name.startswith("UTF"):
                with self.subTest(name):
                    self.assertEqual(
                        known.codec_info.decode(letters, "replace")[0],
                        letters.decode(codec, "replace"),
                    )

    def test_the_encoding_is_guessed_from_mark_and_bytes(self) -> None:
        text = "Name;Vorname\nÅngström;Zoë\nMüller;Søren\nStraße;Anselm\n"
        for encoding, expected in (
            ("utf-8", "UTF-8"), ("utf-8-sig", "UTF-8"), ("utf-16", "UTF-16LE"), ("utf-16-le", "UTF-16LE"),
            ("utf-16-be", "UTF-16BE"), ("cp1252", "windows-1252"),
        ):  # fmt: skip
            with self.subTest(encoding):
                self.assertEqual(guessed_encoding(text.encode(encoding)), expected)
                self.assertEqual(decoded(text.encode(encoding), expected), text)

    def test_a_text_that_ends_within_quotes_was_cut_off(self) -> None:
        self.assertEqual(refusal(b'a,b\r\n1,"two\r\n3,four\r\n5,six\r\n'), "intake.ends_in_quotes")


def a_workbook(
    values: Iterable[Iterable[Any]], epoch: datetime = CALENDAR_WINDOWS_1900
) -> openpyxl.Workbook:
    book = openpyxl.Workbook()
    book.epoch = epoch
    for row in values:
        sheet_of(book).append(list(row))
    return book


def sheet_of(book: openpyxl.Workbook) -> Any:
    return book.active


def saved(book: openpyxl.Workbook) -> bytes:
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


class Workbooks(TestCase):
    def test_openpyxl_and_what_we_read_agree_on_every_cell(self) -> None:
        values: list[list[Any]] = [
            ["Number", "Born", "When", "Share", "Yes"],
            [412, date(1990, 3, 1), datetime.fromisoformat("2026-05-04T07:30"), 0.25, True],
            ["00413", date(2000, 2, 29), datetime.fromisoformat("2026-12-31T23:59:58"), 1e6, False],
        ]
        expected = [
            ["Number", "Born", "When", "Share", "Yes"],
            ["412", "1990-03-01", "2026-05-04 07:30", "0.25", "true"],
            ["00413", "2000-02-29", "2026-12-31 23:59:58", "1000000", "false"],
        ]
        for epoch in (CALENDAR_WINDOWS_1900, CALENDAR_MAC_1904):
            with self.subTest(epoch=epoch):
                data = saved(a_workbook(values, epoch))
                again = sheet_of(openpyxl.load_workbook(io.BytesIO(data)))

                self.assertEqual(rows(data), expected)
                self.assertEqual(
                    [[str(c.value) for c in row[:2]] for row in again.iter_rows(min_row=2)],
                    [[row[0], f"{row[1]} 00:00:00"] for row in expected[1:]],
                )

    def test_serial_dates_are_those_of_iso_29500(self) -> None:
        """ISO/IEC 29500-1, 18.17.4.1: both systems; serial 60 of the first is a day that never was, for
        which both readers take the day before.
        """
        expected = {
            CALENDAR_WINDOWS_1900: ["1900-01-01", "1900-02-28", "1900-02-28", "1900-03-01"],
            CALENDAR_MAC_1904: ["1904-01-02", "1904-02-29", "1904-03-01", "1904-03-02"],
        }
        for epoch, days in expected.items():
            book = a_workbook([[serial] for serial in (1, 59, 60, 61)], epoch)
            for cell in sheet_of(book)["A"]:
                cell.number_format = "yyyy-mm-dd"
            data = saved(book)
            again = sheet_of(openpyxl.load_workbook(io.BytesIO(data)))["A"]
            with self.subTest(epoch=epoch):
                self.assertEqual([row[0] for row in rows(data)], days)
                self.assertEqual([f"{cell.value:%Y-%m-%d}" for cell in again], days)

    def test_ods_and_old_xls_are_read_like_xlsx(self) -> None:
        old = xlwt.Workbook()
        sheet = old.add_sheet("People")
        sheet.write(0, 0, "Number")
        sheet.write(1, 0, 412)
        sheet.write(0, 1, "Born")
        sheet.write(1, 1, date(1990, 3, 1), xlwt.easyxf(num_format_str="YYYY-MM-DD"))
        file = io.BytesIO()
        old.save(file)
        self.assertEqual(rows(file.getvalue()), [["Number", "Born"], ["412", "1990-03-01"]])

        open_document, table = OpenDocumentSpreadsheet(), OdfTable(name="People")
        for row in ROWS:
            line = TableRow()
            for text in row:
                cell = TableCell(valuetype="string")
                cell.addElement(P(text=text))
                line.addElement(cell)
            table.addElement(line)
        open_document.spreadsheet.addElement(table)
        file = io.BytesIO()
        open_document.write(file)
        self.assertEqual(rows(file.getvalue()), ROWS)

    def test_what_a_workbook_has_beside_its_values_is_said(self) -> None:
        book = a_workbook([["Number", "Twice"], [1, "=A2*2"], [2, "=A3*2"], ["", "x"]])
        sheet_of(book).merge_cells("A4:B4")
        sheet_of(book).row_dimensions[3].hidden = True

        table = read_table(saved(book), ANYHOW)

        self.assertEqual(
            set(codes(table)), {"intake.merged_cells", "intake.hidden_rows", "intake.has_formulas"}
        )

    def test_a_sheet_is_chosen_and_the_first_with_anything_in_it_by_itself(self) -> None:
        book = openpyxl.Workbook()
        for name, text in (("One", "a"), ("Two", "b")):
            book.create_sheet(name).append([text])
        self.assertEqual(rows(saved(book)), [["a"]])
        self.assertEqual(rows(saved(book), ReadingChoices(sheet="Two")), [["b"]])


class OtherFiles(TestCase):
    def test_json_is_a_list_of_people(self) -> None:
        data = b'{"people": [{"name": {"first": "Mara"}, "phones": ["1", "2"]}, {"id": 7, "on": true}]}'
        expected = [
            ["name.first", "phones", "id", "on"],
            ["Mara", "1; 2", "", ""],
            ["", "", "7", "true"],
        ]
        self.assertEqual(rows(data), expected)

    def test_vcards_of_both_versions_are_read_and_ours_by_another_reader(self) -> None:
        """RFC 6350; vobject, the general-purpose reader, reads what the export writes."""
        mara = Person(
            "S-1",
            "Mara Lindqvist",
            "Mara",
            "Lindqvist",
            "Skerrow",
            "Lab",
            "Diver",
            "m@x.example",
            ("+47 22 12 34 56",),
        )
        ours = vcard(mara)
        old = "BEGIN:VCARD\r\nVERSION:3.0\r\nN:Reve;Tomas;;;\r\nFN:Tomas Reve\r\nBDAY:19900301\r\nEND:VCARD\r\n"

        read = rows((ours + old).encode())

        self.assertEqual(vobject.readOne(ours).fn.value, "Mara Lindqvist")
        people = [dict(zip(read[0], row, strict=True)) for row in read[1:]]
        self.assertEqual(people[0]["uid"], "S-1")
        self.assertEqual(people[0]["phone"], "+47 22 12 34 56")
        self.assertEqual((people[1]["last_name"], people[1]["born_on"]), ("Reve", "1990-03-01"))

    def test_ldif_is_read_and_nothing_it_points_to_is_fetched(self) -> None:
        """RFC 2849: base64 values, folded lines, a value by address."""
        data = b"version: 1\ndn: uid=mara,o=x\nsn: Lindqvist\ngivenName:: TWFyYQ==\ncn: Mara\n  Lindqvist\njpegPhoto:< file:///etc/passwd\n"
        head, row = rows(data)
        told = dict(zip(head, row, strict=True))
        self.assertEqual(
            (told["sn"], told["givenName"], told["cn"]), ("Lindqvist", "Mara", "Mara Lindqvist")
        )
        self.assertNotIn("root", str(told))

    def test_what_is_no_list_is_refused_by_its_bytes(self) -> None:
        bomb = io.BytesIO()
        with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("xl/workbook.xml", b"0" * (60 * 2**20))
        cases = {
            "empty": (b"", "intake.empty"),
            "a picture": (b"\x89PNG\r\n\x1a\n....", "intake.no_table"),
            "a bomb": (bomb.getvalue(), "intake.unpacks_too_large"),
            "a cut off workbook": (saved(a_workbook(ROWS))[:-200], "intake.cut_off_file"),
            "protected": (OLE + b"\0" * 600 + "EncryptedPackage".encode("utf-16-le"), "intake.password"),
            "an old workbook that is none": (OLE + b"x" * 600, "intake.not_readable"),
            "json": (b"[1, 2]", "intake.json_is_no_list"),
            "deep json": (b"[" * 100_000, "intake.not_readable"),
        }  # fmt: skip
        for name, (data, expected) in cases.items():
            with self.subTest(name):
                self.assertEqual(refusal(data), expected)

    def test_a_text_that_is_called_a_workbook_is_a_text(self) -> None:
        self.assertIs(read_table(b"a,b\n1,2\n", ANYHOW).kind, FileKind.DELIMITED)

    @given(
        st.binary(max_size=400),
        st.sampled_from(
            [
                b"",
                b"PK\x03\x04",
                b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1",
                b"[",
                b"BEGIN:VCARD\n",
                b"dn: x\n",
                b"\xff\xfe",
            ]
        ),
    )
    def test_any_bytes_are_read_or_refused(self, data: bytes, begins: bytes) -> None:
        refusal(begins + data)
