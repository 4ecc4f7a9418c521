"""Bad input: every kind gets a message that names file, line, column and what to do; the rest of the file is kept."""

from __future__ import annotations

import contextlib
import csv
import io
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from web.http_files import load, rehearse
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.results.csv_out import neutral, table_text
from yardstick.formats.rows.input_tables import read_file, tables_of

VISIT = "visit_id,occurred_at,visitor_id,url\n"
GOOD = "v1,2026-03-02T10:00:00Z,p,/?utm_campaign=a\n"
SALE = "conversion_id,occurred_at,goal,total,currency\n"
SPEND = "day,platform,campaign,cost,currency\n"


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("visits.csv", b"", ["empty", "header"]),
        ("visits.csv", b"\n \n", ["empty"]),
        ("visits.csv", VISIT.replace("visit_id,", "").encode(), ["line 1", "visit_id", "missing"]),
        ("visits.csv", VISIT.replace("url", "url,url").encode(), ["line 1", "url appears twice"]),
        ("visits.csv", b"visit_id,occurred_at,url,\xff\n", ["line 1", "not UTF-8"]),
        ("visits.csv", b"visit_id,occurred_at,url,\x00\n", ["line 1", "NUL"]),
        ("visits.csv", b'"visit_id,occurred_at,url\n', ["line 1", "quotes"]),
        ("settings.toml", b"margin = \n", ["settings.toml", "TOML", "line 1"]),
        ("settings.toml", b'home_currency = "\xff"\n', ["settings.toml", "UTF-8"]),
        ("settings.toml", b'homecurrency = "AUD"\n', ["settings.toml", "homecurrency", "spelling"]),
    ],
)
def test_files_that_cannot_be_used_are_named_with_what_to_do(client, name, content, said):
    (file,) = rehearse(client, [(name, content)])["files"]
    assert file["problem"].startswith(name)
    for word in said:
        assert word in file["problem"], file["problem"]


@pytest.mark.parametrize(
    ("name", "content", "fields"),
    [
        ("visits.csv", VISIT.replace(",", "|").encode() + GOOD.replace(",", "|").encode(), []),
        ("stuff.csv", b"colour,size\nred,2\n", ["constant.platform"]),
    ],
)
def test_files_whose_columns_are_strange_open_the_board(client, name, content, fields):
    (file,) = rehearse(client, [(name, content)])["files"]
    assert (file["problem"], file["names"] != []) == ("", True)
    assert [q["field"] for q in file["questions"] if not q["answer"]] == fields


def test_what_spreadsheets_save_is_read(client):
    """UTF-16, and a first line that says what stands between cells."""
    files = [
        ("visits.csv", (VISIT + GOOD).encode("utf-16")),
        ("other-visits.csv", b"sep=;\r\n" + (VISIT + GOOD.replace("v1", "v2")).replace(",", ";").encode()),
    ]
    assert [(f["problem"], f["new"]) for f in rehearse(client, files)["files"]] == [("", 1), ("", 1)]


def test_a_file_that_cannot_be_used_does_not_keep_the_others_out(client):
    load(client, [("stuff.csv", b"colour\nred\n"), ("visits.csv", (VISIT + GOOD).encode())])
    assert [entry["file"] for entry in client.get("/api/w/test/gather/loads").json()] == ["visits.csv"]


@pytest.mark.parametrize(
    ("name", "header", "bad", "column", "said"),
    [
        ("visits.csv", VISIT, b"v2,2026-02-31T10:00:00Z,p,/", "occurred_at", "calendar"),
        ("visits.csv", VISIT, b"v2,yesterday,p,/", "occurred_at", "write it as"),
        ("visits.csv", VISIT, b"v2,9999-12-31T23:59:59-14:00,p,/", "", ""),
        ("visits.csv", VISIT, b"v2,2026-03-02T10:00:00Z,p,lunnick.example/x", "url", "https://"),
        ("visits.csv", VISIT, b"v2,2026-03-02T10:00:00Z,p,http://[x/", "url", "host"),
        ("visits.csv", VISIT, b"v2,2026-03-02T10:00:00Z,p,", "url", "fill it"),
        ("visits.csv", VISIT, b",2026-03-02T10:00:00Z,p,/", "visit_id", "fill it"),
        ("visits.csv", VISIT, b"v2,2026-03-02T10:00:00Z,p\xe9,/", "", "not UTF-8"),
        ("visits.csv", VISIT, b"v2,2026-03-02T10:00:00Z,p\x00q,/", "", "NUL"),
        ("visits.csv", VISIT, b"v2,2026-03-02T10:00:00Z,p,/,too,many", "", "6 cells where the header has 4"),
        ("visits.csv", VISIT, b'v2,2026-03-02T10:00:00Z,"p,/', "", "never closed"),
        ("visits.csv", VISIT, b'v2,2026-03-02T10:00:00Z,"p"q,/', "", "quotes"),
        ("conversions.csv", SALE, b'c2,2026-03-02T10:00:00Z,sale,"1.234,56",EUR', "total", "1234.56"),
        ("conversions.csv", SALE, b"c2,2026-03-02T10:00:00Z,sale,1e3,EUR", "total", "1234.56"),
        ("conversions.csv", SALE, b"c2,2026-03-02T10:00:00Z,sale,=cmd,EUR", "total", "decimal"),
        ("conversions.csv", SALE, b"c2,2026-03-02T10:00:00Z,sale,1,EURO", "currency", "ISO 4217"),
        ("spend.csv", SPEND, b"2026-03-02,Quorrin,a,--,EUR", "cost", "decimal"),
        ("spend.csv", SPEND, b"2026-03-02,Quorrin,a,,EUR", "cost", "clicks and click_price"),
        ("spend.csv", SPEND, b"02/03/2026,Quorrin,a,1,EUR", "day", "year-month-day"),
        ("rates.csv", "day,base,quote,rate\n", b"2026-03-02,NZD,EUR,0", "rate", "above 0"),
    ],
)
def test_a_bad_row_is_rejected_with_its_place_and_the_rest_is_kept(client, name, header, bad, column, said):
    good = {
        "visits.csv": GOOD.encode(),
        "conversions.csv": b"c1,2026-03-02T10:00:00Z,sale,1.00,EUR\n",
        "spend.csv": b"2026-03-01,Quorrin,a,1.00,EUR\n",
        "rates.csv": b"2026-03-01,NZD,EUR,0.9\n",
    }[name]
    tail = good.replace(b"v1", b"v9").replace(b"c1", b"c9").replace(b"-01,", b"-05,")
    content = header.encode() + good + bad + b"\n" + tail
    (file,) = rehearse(client, [(name, content)])["files"]
    if not said:  # the last moment of year 9999 can be told; it is odd, not wrong
        return
    assert file["problem"] == ""
    assert (file["new"], file["rejected"]) == (2, 1), file["rejected_rows"]
    (row,) = file["rejected_rows"]
    assert (row["file"], row["line"], row["column"]) == (name, 3, column)
    assert said in row["reason"]
    load(client, [(name, content)])
    (entry,) = client.get("/api/w/test/gather/loads").json()
    listed = list(csv.DictReader(io.StringIO(client.get(f"/api/w/test/gather/loads/{entry['id']}/rejected.csv").text)))
    assert [(r["line"], r["column"]) for r in listed] == [("3", column)]


def test_a_header_without_rows_is_said(client):
    (file,) = rehearse(client, [("visits.csv", VISIT.encode())])["files"]
    assert (file["problem"], file["read"]) == ("", 0)
    assert [f["code"] for f in file["findings"]] == ["no_rows"]


def test_a_time_without_offset_is_read_in_the_workspace_zone_and_said(client):
    settings = b'time_zone = "Australia/Adelaide"\n'
    rows = (VISIT + "v1,2026-03-02T23:50,p,/\nv2,2026-04-05T02:30:00,p,/\n").encode()
    files = rehearse(client, [("settings.toml", settings), ("visits.csv", rows)])["files"]
    notes = [(f["code"], f["field"], f["line"]) for f in files[1]["findings"]]
    assert notes == [("no_offset", "occurred_at", 2), ("clock_change", "occurred_at", 3)]
    load(client, [("settings.toml", settings), ("visits.csv", rows)])
    days = {r["name"]: r["touches"] for r in client.get("/api/w/test/weigh/board?by=day").json()["rows"]}
    assert days == {"2026-03-02": 1, "2026-04-05": 1}


def test_an_id_that_stands_twice_counts_once(client):
    rows = VISIT + GOOD + GOOD + "v1,2026-03-02T10:00:00Z,p,/?utm_campaign=b\n"
    (file,) = rehearse(client, [("visits.csv", rows.encode())])["files"]
    counts = [file[name] for name in ("lines", "header", "read", "new", "replaced", "repeated", "rejected", "skipped")]
    assert counts == [4, 1, 3, 1, 1, 1, 0, 0]
    load(client, [("visits.csv", rows.encode())])
    board = client.get("/api/w/test/weigh/board").json()
    assert [r["name"] for r in board["rows"]] == ["b"]
    assert board["findings"] == {"replaced_row": 1}


def test_a_row_without_a_rate_is_rejected_by_the_rules_and_counted_on_the_board(client):
    spend = SPEND + "2026-03-02,Quorrin,a,1.00,NZD\n2026-03-02,Ostrel,a,2.00,EUR\n"
    load(client, [("visits.csv", (VISIT + GOOD).encode()), ("spend.csv", spend.encode())])
    board = client.get("/api/w/test/weigh/board").json()
    assert (board["rejected"], board["ties"]["invoiced"]) == (1, 200)


def test_a_formula_in_a_cell_is_harmless_on_the_way_out_and_unchanged_on_the_way_back(client):
    rows = VISIT + "v1,2026-03-02T10:00:00Z,p,/?utm_campaign=%3Dcmd%7C' /C calc'!A0\n"
    load(client, [("visits.csv", rows.encode())])
    (row,) = client.get("/api/w/test/weigh/board").json()["rows"]
    assert row["name"].startswith("=cmd|")
    exported = list(csv.DictReader(io.StringIO(client.get("/api/w/test/weigh/board.csv").text)))
    assert exported[0]["campaign"] == "'" + row["name"]


@given(
    st.lists(
        st.text(st.characters(blacklist_characters="\x00\r\n", codec="utf-8"), max_size=12), min_size=3, max_size=3
    )
)
def test_every_text_survives_export_and_reading_back(cells):
    """RFC 4180 quoting, and the apostrophe before what a spreadsheet would run."""
    name = "x" + cells[0]
    text = table_text(
        ["visit_id", "occurred_at", "url", "email", "visitor_id"],
        [[name, "2026-03-02T10:00:00Z", "/", cells[1], cells[2]]],
    )
    (raw,) = csv_of("visits.csv", text.encode()).batches()
    cells_back = {name: column[0].as_py() for name, column in raw.columns.items()}
    assert (cells_back["visit_id"], cells_back["email"], cells_back["visitor_id"]) == (name, cells[1], cells[2])


@pytest.mark.parametrize("cell", ["=1+1", "+cmd", "-cmd", "@sum", "\tx", "\rx", "'=1", "''=1"])
def test_cells_that_a_spreadsheet_would_run_are_neutralised(cell):
    assert neutral(cell) == "'" + cell


@pytest.mark.parametrize("cell", ["-5.00", "+3", "a=b", "'quoted", "", "x"])
def test_other_cells_stay_as_they_are(cell):
    assert neutral(cell) == cell


@given(st.binary(max_size=300))
def test_no_bytes_make_the_reader_crash(content):
    for name, whole, table in (("visits.csv", VISIT.encode() + content, None), ("x.csv", content, "spend")):
        with contextlib.suppress(FileProblem):
            given = tables_of([read_file(csv_of(name, whole, table), "UTC")])
            (count,) = given.counts.values()
            assert count.read == count.accepted + count.rejected + count.repeated
            assert count.lines == count.header + count.read + count.skipped == physical_lines(whole)


def physical_lines(content: bytes) -> int:
    """Lines as an editor counts them."""
    return len(re.findall(rb"[^\r\n]*(?:\r\n|\n|\r)|[^\r\n]+$", content))


@pytest.mark.parametrize("text", [b"window = " + b"1" * 10_000, b'[[source]]\nname = "a"\nskip_top = ' + b"1" * 10_000])
def test_a_number_of_thousands_of_digits_in_settings_is_a_sentence(client, text):
    answer = client.post("/api/w/test/gather/rehearsals", files=[("files", ("settings.toml", text))])
    assert answer.status_code == 200
    assert "thousands of digits" in answer.json()["files"][0]["problem"]


@pytest.mark.parametrize(
    ("path", "body"), [("mark/check-up", '{"urls": ["\\ud800"]}'), ("mark/preview", '{"page": "\\ud800"}')]
)
def test_half_a_character_is_a_sentence(client, path, body):
    head = {"content-type": "application/json"}
    answer = client.post(f"/api/w/test/{path}", content=body, headers=head)
    assert (answer.status_code, answer.json()["code"]) == (422, "cannot_be_stored")
