"""JSON Lines in: the same rows as in CSV, and every line accounted for."""

from __future__ import annotations

import io
import json

import pytest
from hypothesis import given
from typer.testing import CliRunner

from core.test_hard_cases import sale, tags, visit
from worlds import csv_bytes, worlds
from yardstick.cli import app
from yardstick.formats.files.raw import FileLayout, FileProblem
from yardstick.formats.files.readers import layout_of, open_table
from yardstick.formats.rows.input_tables import read_file, tables_of

SPEND = b'{"day": "2026-04-01", "platform": "Quorrin", "campaign": "A", "cost": %s}\n'


def read(name, content, table=None):
    return tables_of([read_file(open_table(name, io.BytesIO(content), table), "UTC")])


def lines_of(rows):
    return "".join(json.dumps({k: v for k, v in row.items() if v} or {"": ""}) + "\n" for row in rows).encode()


@given(worlds())
def test_rows_are_those_of_the_same_file_as_csv(world):
    for name in ("visits", "leads", "conversions", "spend"):
        if world[name]:
            one = read(f"{name}.csv", csv_bytes(name, world[name]), name)
            other = read(f"{name}.jsonl", lines_of(world[name]), name)
            assert one.tables.data == other.tables.data
            assert len(one.rejected) == len(other.rejected)


@pytest.mark.parametrize("encoding", ["utf-16", "utf-16-le", "windows-1252"])
def test_other_encodings_give_the_same_rows(encoding):
    """With the mark of UTF-16 by itself, without one by what the source says; guessed by what the bytes are."""
    plain = lines_of([visit(1, tags("zeta", "cpc", "A")), visit(2, tags("caf\u00e9", "cpc", "A"))]).decode()
    text = plain.encode().decode("unicode_escape")
    content = text.encode(encoding)
    laid = FileLayout() if encoding == "utf-16" else FileLayout(encoding)
    one = tables_of([read_file(open_table("visits.jsonl", io.BytesIO(content), None, laid), "UTC")])
    assert (one.tables.data, one.rejected) == (read("visits.jsonl", text.encode()).tables.data, [])
    guessed = layout_of("visits.jsonl", io.BytesIO(content)).laid
    assert guessed == laid


def test_numbers_are_taken_as_they_are_written():
    """0.1 + 0.2 in binary floats is no 0.3; a number of JSON is its digits."""
    given_rows = read("spend.jsonl", SPEND % b"0.10000000000000000001" + SPEND % b"12.50")
    amounts = given_rows.tables.spend.amounts("cost")
    assert (amounts.decimals, amounts.units.tolist()) == (20, [10**19 + 1, 1250 * 10**18])


def test_a_line_that_is_no_row_costs_itself_and_says_why():
    lines = [
        b'{"visit_id": "a", "occurred_at": "2026-03-02T10:00:00Z", "url": "/", "is_test": false}',
        b"",
        b"[1]",
        b'{"visit_id": "b", "url"',
        b'{"visit_id": ["b"], "occurred_at": "2026-03-02T10:00:00Z", "url": "/"}',
        b'{"visit_id": "b", "visit_id": "c", "url": "/"}',
        b'{"visit_id": "\\ud800", "occurred_at": "2026-03-02T10:00:00Z", "url": "/"}',
        b'{"visit_id": "\xff"}',
        b'{"visit_id": "b\\u0000"}',
        b'{"visit_id": null, "occurred_at": "2026-03-02T10:00:00Z", "url": "/"}',
        b'{"visit_id": "d", "occurred_at": "2026-03-02T10:00:00Z", "url": "/", "shelf": 7}',
    ]
    found = read("visits.jsonl", b"\n".join(lines))
    assert found.tables.visits.text("visit_id").strings() == ["a", "d"]
    said = {r.line: r.reason for r in found.rejected}
    words = {
        3: "not an object",
        4: "not JSON",
        5: "a list",
        6: "twice",
        7: "surrogate",
        8: "UTF-8",
        9: "NUL",
        10: "required",
    }
    assert said.keys() == words.keys()
    for line, word in words.items():
        assert word in said[line], said[line]
    (count,) = found.counts.values()
    assert (count.lines, count.header, count.skipped, count.accepted, count.rejected) == (11, 0, 1, 2, 8)


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "empty"),
        (b"\n\n", "empty"),
        (b"a,b\n", "not JSON"),
        (b'{"a": 1}\n', "unknown table"),
        (b"\xff\xfe{", "not JSON"),
    ],
)
def test_a_file_that_is_none_is_refused_in_words(content, said):
    with pytest.raises(FileProblem, match=said):
        read("rows.jsonl", content)


def test_one_bad_file_does_not_stop_the_others(tmp_path):
    (tmp_path / "visits.jsonl").write_bytes(lines_of([visit(1, tags("zeta", "cpc", "A"))]))
    (tmp_path / "conversions.csv").write_bytes(csv_bytes("conversions", [sale(1, "90.00")]))
    (tmp_path / "spend.csv").write_bytes(b"day;nothing\n2026-04-01;1\n")
    (tmp_path / "leads.ods").write_bytes(b"PK")
    done = CliRunner().invoke(app, ["credit", str(tmp_path), "--out", str(tmp_path / "out")])
    assert done.exit_code == 0
    assert "spend.csv: line 1: required column" in done.stderr
    assert "leads.ods: files ending in .ods are not read" in done.stderr
    summary = json.loads((tmp_path / "out" / "summary.json").read_text())
    assert set(summary["unread"]) == {"spend.csv", "leads.ods"}
    assert summary["totals"]["named_value"]["linear"] == "90.00"
    (tmp_path / "visits.jsonl").write_bytes(b"nothing")
    done = CliRunner().invoke(app, ["credit", str(tmp_path), "--out", str(tmp_path / "out")])
    assert (done.exit_code, "visits.jsonl: line 1" in done.stderr) == (1, True)
