"""A workbook is read the same whichever way it is read, and what is unusual in one is never read the quick way."""

from __future__ import annotations

import io
from datetime import date, datetime, time, timedelta
from zipfile import ZipFile

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import Workbook
from openpyxl.cell.rich_text import CellRichText, TextBlock
from openpyxl.cell.text import InlineFont

from effort import examples
from yardstick.formats.files import workbooks
from yardstick.formats.files.plain_workbooks import Plainness
from yardstick.formats.files.workbooks import read_workbook

FORMATS = [
    "General",
    "0.00",
    "#,##0",
    "@",
    "yyyy-mm-dd",
    "dd/mm/yyyy hh:mm",
    "d. mmm yy",
    '0.00 "EUR"',
    "[Red]0.0",
    "mm:ss",
]
texts = st.text(
    st.characters(codec="utf-8", exclude_categories=["Cc", "Cs"], exclude_characters="\ufffe\uffff"), max_size=8
) | st.sampled_from(["=A1+1", "#N/A", "007", "1,5", " x ", "_x000D_", "a\nb", "true"])
values = st.one_of(
    st.none(),
    texts,
    st.integers(-(2**53), 2**70),
    st.floats(allow_nan=False, allow_infinity=False),
    st.decimals(-(10**9), 10**9, places=2, allow_nan=False).map(float),
    st.booleans(),
    st.dates(date(1900, 1, 1), date(2100, 1, 1)),
    st.datetimes(datetime(1899, 12, 31), datetime(2100, 1, 1)),
    st.times(),
    st.timedeltas(timedelta(0), timedelta(days=9)),
)
usual = st.one_of(
    st.none(),
    texts.filter(lambda text: text not in ("#N/A", "_x000D_")),
    st.integers(-(2**53), 2**53),
    st.decimals(-(10**9), 10**9, places=2, allow_nan=False).map(float),
    st.floats(-1e6, 1e6),
    st.booleans(),
    st.dates(date(1901, 1, 1), date(2100, 1, 1)),
    st.datetimes(datetime(1901, 1, 1), datetime(2100, 1, 1)),
)


def is_fitting(cell):
    """A number shown as a day that is none is an error to one reader and a number to the other: both say it is no day."""
    value, shown = cell
    return not (shown and set("ydh") & set(shown) and isinstance(value, int | float))


def sheets(value, formats):
    cells = st.tuples(value, st.sampled_from([None, *formats])).filter(is_fitting)
    return st.lists(st.lists(cells, min_size=1, max_size=5), min_size=1, max_size=5)


def made(rows, name="Data", before=(), first=(1, 1)):
    book = Workbook()
    book.remove(book.active)
    for title in before:
        book.create_sheet(title).append(["elsewhere"])
    sheet = book.create_sheet(name)
    for r, row in enumerate(rows, first[0]):
        for c, (value, shown) in enumerate(row, first[1]):
            cell = sheet.cell(r, c)
            if isinstance(value, str) and value.startswith("="):
                cell.value, cell.data_type = value, "s"
            else:
                cell.value = value
            if shown:
                cell.number_format = shown
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def read(content, quick, sheet="", above=0):
    typed = {}
    with pytest.MonkeyPatch.context() as patch:
        if not quick:
            patch.setattr(workbooks, "rows_of", lambda *_: None)
        try:
            lines = read_workbook("x.xlsx", content, 1_000, 50, sheet=sheet, above=above, typed=typed)
        except workbooks.FileProblem as problem:
            return str(problem), typed
    # Cells without content behind the last one are there or not: nobody asks for them.
    while lines and not any(cell.strip() for cell in lines[-1]):
        lines.pop()
    return lines, typed


@examples(120)
@given(
    st.one_of(sheets(values, FORMATS), sheets(usual, FORMATS[:7]), sheets(usual, [])),
    st.sampled_from([(1, 1), (3, 2)]),
    st.integers(0, 2),
)
def test_both_ways_read_the_same(rows, first, above):
    content = made(rows, before=["Cover"], first=first)
    for sheet in ("", "data"):
        assert read(content, True, sheet, above) == read(content, False, sheet, above)


def taken(content):
    """Whether the quick way was taken."""
    seen = []
    with pytest.MonkeyPatch.context() as patch:
        real = workbooks.rows_of
        patch.setattr(workbooks, "rows_of", lambda *of: seen.append(real(*of)) or seen[-1])
        read_workbook("x.xlsx", content, 50, 50)
    return bool(seen) and seen[0] is not None


def test_an_ordinary_export_is_read_the_quick_way():
    head = [(name, None) for name in ("day", "campaign", "cost", "at")]
    row = [(date(2026, 3, 1), None), ("Whale", None), (12.35, "0.00"), (datetime(2026, 3, 1, 10, 30), None)]
    assert taken(made([head, row]))


RICH = CellRichText("a", TextBlock(InlineFont(b=True), "b"))


@pytest.mark.parametrize(
    "value",
    [(time(10, 30), None), (timedelta(hours=30), None), (1.5, "[Red]0.0"), (RICH, None)],
    ids=["time", "length of time", "conditional format", "rich text"],
)
def test_what_is_unusual_is_read_cell_by_cell(value):
    assert not taken(made([[("name", None)], [value]]))


def test_a_whole_number_of_many_digits_keeps_them():
    """Some writers put in more than a spreadsheet can hold: an id is an id."""
    plain = made([[("id", None)], [(7, None)]])
    out = io.BytesIO()
    with ZipFile(io.BytesIO(plain)) as old, ZipFile(out, "w") as new:
        for name in old.namelist():
            new.writestr(name, old.read(name).replace(b"<v>7</v>", b"<v>1152921504606846977</v>"))
    assert taken(plain)
    assert not taken(out.getvalue())
    assert read(out.getvalue(), True)[0] == [["id"], ["1152921504606846977"]]


def test_a_far_cell_takes_no_memory():
    """The quick reader would hold every place up to it."""
    assert not taken(made([[("x", None)]], first=(3_000, 9_000)))


@pytest.mark.parametrize("written", [b"r='XFD9999'", b'r = "XFD9999"', b's="0" r="XFD9999"', b'\tr="XFD9999"'])
def test_a_far_cell_is_seen_however_its_place_is_written(written):
    plain = made([[("x", None), ("y", None)]])
    out = io.BytesIO()
    with ZipFile(io.BytesIO(plain)) as old, ZipFile(out, "w") as new:
        for name in old.namelist():
            new.writestr(name, old.read(name).replace(b'r="B1"', written))
    assert taken(plain)
    assert not taken(out.getvalue())


@pytest.mark.parametrize("code", [b"General" * 4_000 + b"y", b"yd" * 20_000 + b"?", b"y" * 60_000 + b"["])
def test_no_format_of_numbers_makes_its_reader_run_away(code):
    """A pattern that could read a part of it in two ways took time in powers of two."""
    seen = Plainness()
    seen.add(b'<numFmt numFmtId="164" formatCode="' + code + b'"/>')
    assert not seen.plain
