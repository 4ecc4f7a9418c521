"""Parquet and workbooks in: the same rows as in CSV, and what they hold otherwise."""

from __future__ import annotations

import datetime as dt
import io
from decimal import Decimal

import numpy as np
import polars as pl
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from hypothesis import given
from openpyxl import Workbook

from worlds import csv_bytes, worlds
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.files.readers import open_table
from yardstick.formats.rows.input_tables import read_file, tables_of


def read(name, content, table=None):
    return tables_of([read_file(open_table(name, io.BytesIO(content), table), "UTC")])


def parquet(table, **more):
    out = io.BytesIO()
    pq.write_table(pa.table(table), out, **more)
    return out.getvalue()


def workbook(*rows):
    book = Workbook()
    for row in rows:
        book.active.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


@given(worlds())
def test_rows_are_those_of_the_same_file_as_csv(world):
    for name in ("visits", "leads", "conversions", "spend", "order_lines"):
        rows = world[name]
        if rows:
            columns = list(dict.fromkeys(c for row in rows for c in row))
            cells = [[row.get(c, "") for c in columns] for row in rows]
            one = read(f"{name}.csv", csv_bytes(name, rows), name)
            others = (
                (
                    "a.parquet",
                    parquet({c: [line[i] for line in cells] for i, c in enumerate(columns)}, row_group_size=3),
                ),
                ("a.xlsx", workbook(columns, *cells)),
            )
            for file, content in others:
                other = read(file, content, name)
                assert (file, other.tables.data) == (file, one.tables.data)
                assert len(one.rejected) == len(other.rejected)


def test_typed_columns_keep_their_values_and_binary_floats_fifteen_digits():
    day = dt.date(2026, 4, 1)
    columns = {"day": [day] * 3, "platform": ["Q"] * 3, "campaign": ["A"] * 3, "clicks": [1, None, 3]}
    money = {"cost": [12.5, 0.1 + 0.2, None], "claimed_value": [Decimal("1.10"), Decimal("2.00"), None]}
    spend = read("spend.parquet", parquet(columns | money | {"click_price": [None, None, 0.07]})).tables.spend
    assert (spend.amounts("cost").decimals, spend.amounts("cost").units.tolist()) == (1, [125, 3, 0])
    assert spend.amounts("claimed_value").units.tolist()[:2] in ([110, 200], [11, 20])
    rows = [["day", "platform", "campaign", "cost", "clicks"], [dt.datetime(2026, 4, 1), "Q", "A", 0.1 + 0.2, 7.0]]
    spend = read("export.xlsx", workbook([], rows[0], [None], rows[1])).tables.spend
    assert (spend.amounts("cost").units.tolist(), spend.ints("clicks").tolist(), spend.line.tolist()) == ([3], [7], [4])


def test_a_file_of_polars_is_read_with_its_instants():
    at = [dt.datetime(2026, 4, 1, 10, tzinfo=dt.UTC), None]
    frame = pl.DataFrame({"visit_id": ["a", "b"], "occurred_at": at, "url": ["/?utm_source=s", "/"], "shelf": [1, 2]})
    out = io.BytesIO()
    frame.write_parquet(out)
    found = read("visits.parquet", out.getvalue())
    assert found.tables.visits.text("visit_id").strings() == ["a"]
    assert [(r.line, r.column) for r in found.rejected] == [(2, "occurred_at")]


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("visits.parquet", b"visit_id", "not readable as Parquet"),
        ("visits.parquet", b"", "not readable as Parquet"),
        ("visits.parquet", b"PAR1" + b"\x00" * 40 + b"PAR1", "not readable as Parquet"),
        ("visits.parquet", parquet({"visit_id": ["a"]}), "occurred_at, url of visits is missing"),
        ("visits.parquet", parquet({f"c{i}": ["a"] for i in range(1_001)}), "at most 1,000"),
        (
            "visits.parquet",
            parquet({"visit_id": [["a"]], "occurred_at": ["x"], "url": ["/"]}),
            "visit_id of visits is missing",
        ),
        ("visits.xlsx", b"PK", "not readable as XLSX"),
        ("visits.xlsx", workbook(), "the first sheet is empty"),
        ("visits.xlsx", workbook(["visit_id", "url"], ["a", "/"]), "occurred_at of visits is missing"),
        ("visits.xlsx", workbook(["visit_id", "url", "URL", "occurred_at"]), "url appears twice"),
    ],
)
def test_what_cannot_be_read_as_a_whole_says_why(name, content, said):
    with pytest.raises(FileProblem, match=said) as problem:
        read(name, content)
    assert name in str(problem.value)


def test_a_damaged_file_says_where_and_gives_nothing():
    whole = bytearray(
        parquet(
            {"visit_id": [f"v{i}" for i in range(9_000)], "occurred_at": ["2026-04-01"] * 9_000, "url": ["/"] * 9_000},
            compression="none",
        )
    )
    whole[100:400] = bytes(300)
    try:
        found = read("visits.parquet", bytes(whole))
    except FileProblem as problem:
        assert "visits.parquet" in str(problem)  # noqa: PT017
    else:
        # What still can be read as rows is read; what is no row is rejected, never passed over.
        assert len(found.tables.visits) + len(found.rejected) == 9_000


@given(worlds())
def test_csv_in_another_encoding_or_with_a_stated_delimiter_gives_the_same_rows(world):
    for name in ("visits", "leads", "spend"):
        if world[name]:
            text = csv_bytes(name, world[name]).decode()
            one = read(f"{name}.csv", text.encode(), name)
            for content in (
                text.encode("utf-16"),
                "\ufeff".encode("utf-16-be") + text.encode("utf-16-be"),
                ("\ufeffsep=,\r\n" + text).encode("utf-16-le"),
                b"SEP=,\n" + text.encode(),
                b"\xef\xbb\xbfsep=,\r\n" + text.encode(),
            ):
                other = read(f"{name}.csv", content, name)
                assert other.tables.data == one.tables.data
                assert len(other.rejected) == len(one.rejected)


def test_a_stated_delimiter_holds_and_lines_count_from_the_top():
    content = b"sep=|\nvisit_id|occurred_at|url\na|2026-04-01|/?utm_term=a;b;c,d\nb|never|/\n"
    found = read("visits.csv", content)
    assert found.tables.visits.text("url").strings() == ["/?utm_term=a;b;c,d"]
    assert [(r.line, r.column) for r in found.rejected] == [(4, "occurred_at")]
    (count,) = found.counts.values()
    assert (count.lines, count.header, count.read) == (4, 2, 2)


def test_cells_that_are_no_text_reject_their_row_whatever_the_format():
    cells = [b"/", b"/\0x", b"/\xff\xfe", b"/y"]
    begins = np.cumsum([0, *map(len, cells)]).astype(np.int32)
    urls = pa.Array.from_buffers(pa.string(), 4, [None, pa.py_buffer(begins), pa.py_buffer(b"".join(cells))])
    found = read("a.parquet", parquet({"visit_id": list("abcd"), "occurred_at": ["2026-04-01"] * 4, "url": urls}))
    assert found.tables.visits.text("visit_id").strings() == ["a", "d"]
    assert [(r.line, r.column, r.reason.partition(":")[0]) for r in found.rejected] == [
        (2, "url", "holds a NUL byte"),
        (3, "url", "not UTF-8"),
    ]
    (count,) = found.counts.values()
    assert (count.lines, count.read, count.rejected) == (4, 4, 2)


@pytest.mark.parametrize("content", [b"sep=;", b"sep=;\n", b"\xff\xfe", "sep=;\n".encode("utf-16")])
def test_a_delimiter_without_a_table_is_an_empty_file(content):
    with pytest.raises(FileProblem, match=r"visits\.csv: the file is empty"):
        read("visits.csv", content)


def test_what_is_no_text_in_utf16_rejects_its_row():
    rows = "visit_id,occurred_at,url\na,2026-04-01,/\nb\ud800,2026-04-01,/\nc,2026-04-01,/\n"
    found = read("visits.csv", b"\xff\xfe" + rows.encode("utf-16-le", "surrogatepass") + b"x")
    assert found.tables.visits.text("visit_id").strings() == ["a", "c"]
    assert [r.line for r in found.rejected] == [3, 5]
    assert "not UTF-8" in found.rejected[0].reason
