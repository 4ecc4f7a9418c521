"""The command beside its files: the table it prints, one conversion explained, its version."""

from __future__ import annotations

import csv
import io
import json
import re
import subprocess
import sys
from datetime import datetime
from decimal import Decimal
from pathlib import Path

import duckdb
import polars
import pyarrow.parquet as pq
import pytest
from openpyxl import load_workbook
from typer.testing import CliRunner

import yardstick.demo
from yardstick import __version__
from yardstick.cli import app
from yardstick.core.base.report_fields import FIELDS
from yardstick.formats.plan.settings_toml import read_settings

WEEK = Path(yardstick.demo.__file__).parent / "worked_week"
SETTINGS = ("--settings", str(WEEK / "settings.toml"))


def run(*words):
    return CliRunner().invoke(app, [str(word) for word in words], terminal_width=200)


def test_it_says_its_version():
    assert (run("--version").exit_code, run("--version").output) == (0, f"yardstick {__version__}\n")


HEAVY = ("numpy", "pyarrow", "pydantic", "scipy", "numba", "openpyxl", "sqlalchemy", "fastapi", "babel", "pandas")


@pytest.mark.parametrize(
    ("words", "loaded"),
    [
        (("--help",), ()),
        (("--version",), ()),
        (("tags", "check", "https://x.example/?utm_source=a&utm_medium=b&utm_campaign=c"), ()),
        (("credit", str(WEEK), "--out", "OUT"), ("numpy", "pyarrow")),
    ],
)
def test_a_command_loads_what_it_needs(tmp_path, words, loaded):
    """Typer itself looks whether pydantic is there where a command has arguments."""
    said = [str(tmp_path / "out") if word == "OUT" else word for word in words]
    code = (
        f"import sys; sys.argv = {['yardstick', *said]!r}\n"
        "from yardstick.cli import main\n"
        "try:\n    main()\nexcept SystemExit:\n    pass\n"
        f"print('loaded', *[name for name in {HEAVY!r} if name in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert set(done.stdout.splitlines()[-1].split()[1:]) - {"pydantic"} == set(loaded), done.stderr
    if len(words) == 1:
        assert "pydantic" not in done.stdout.splitlines()[-1]


def test_its_help_names_every_field(monkeypatch):
    monkeypatch.setenv("COLUMNS", "200")
    said = re.sub(r"[^a-z:]+", " ", run("credit", "--help").output.lower())
    assert [field for field in FIELDS if f" {field.replace('_', ' ')} " not in said] == []


def test_it_prints_the_campaigns_with_the_most_spend(tmp_path):
    """By hand from docs/worked-week.md, under linear."""
    done = run("credit", WEEK, "--out", tmp_path, *SETTINGS)
    lines = [line.split() for line in done.output.splitlines()]
    assert done.exit_code == 0
    assert lines[0] == ["campaign", "spend", "leads", "cost/lead", "sales", "value", "ROAS"]
    assert lines[1] == ["Spring", "Whale", "Boats", "100.00", "0.0", "-", "1.5", "140.00", "1.40"]
    assert lines[2] == ["Two-Island", "Year", "Card", "55.30", "1.5", "36.87", "1.3", "130.90", "2.37"]
    assert ["Tagged,", "no", "campaign", "-", "0.5", "-", "0.0", "0.00", "-"] in lines
    assert "under linear, AUD" in done.output


def test_one_conversion_is_explained_under_every_yardstick():
    """o1: 120.00 over Whale, Card, Direct."""
    said = run("explain", WEEK, "o1", *SETTINGS).output
    lines = said.splitlines()
    assert lines[0] == "o1 (conversions, goal ticket): 120.00 AUD at 2026-03-03T21:50:00Z"
    assert [line.split()[1] for line in lines[2:5]] == ["v01", "v03", "v04"]
    assert "Spring Whale Boats" in lines[2]
    assert lines[6].split() == ["first", "last", "last_marked", "linear", "position", "decay", "fair_share"]
    cents = [re.findall(r"= ([0-9.]+)|(-)", line) for line in lines[7:10]]
    assert [[a or b for a, b in row] for row in cents] == [
        ["120.00", "-", "-", "40.00", "48.00", "35.61", "40.00"],
        ["-", "-", "120.00", "40.00", "24.00", "41.15", "40.00"],
        ["-", "120.00", "-", "40.00", "48.00", "43.24", "40.00"],
    ]


@pytest.mark.parametrize(
    ("wanted", "said"),
    [
        ("o5", "cancelled"),
        ("l6", "counting rule"),
        ("o8", "no touch"),
        ("l3", "(captured)"),
    ],
)
def test_why_a_conversion_is_in_no_figure_or_has_no_touch_is_said(wanted, said):
    assert said in run("explain", WEEK, wanted, *SETTINGS).output


def test_a_conversion_outside_the_range_is_said_to_be(tmp_path):
    late = (WEEK / "settings.toml").read_text().replace("2026-03-02", "2026-03-05")
    (tmp_path / "late.toml").write_text(late)
    said = run("explain", WEEK, "o1", "--settings", tmp_path / "late.toml").output
    assert "its day, 2026-03-04, is outside the report range" in said


def test_command_and_board_show_the_same_yardstick_where_nobody_chose_one(tmp_path):
    """That of a goal was the board's alone; one called otherwise than its rule was the command's alone."""
    text = (WEEK / "settings.toml").read_text()
    of_goal = tmp_path / "goal.toml"
    of_goal.write_text(text.replace('name = "ticket"', 'name = "ticket"\nyardstick = "last"', 1))
    own = tmp_path / "own.toml"
    own.write_text(
        text + '\n[[yardstick]]\nname = "ends"\nrule = "first"\n[[yardstick]]\nname = "evenly"\nrule = "linear"\n'
    )
    for file, word in ((WEEK / "settings.toml", "linear"), (of_goal, "last"), (own, "evenly")):
        assert read_settings(file.read_bytes(), file.name).usual_yardstick == word
        assert f"under {word}, AUD" in run("credit", WEEK, "--settings", file, "--out", tmp_path / word).output


def test_an_id_that_nobody_has_and_a_folder_that_is_none_are_sentences(tmp_path):
    for words, code, said in (
        (("explain", WEEK, "nobody"), 1, "there is no lead or conversion"),
        (("explain", tmp_path / "none", "o1"), 1, "there is no such folder"),
        (("credit", WEEK, "--out", tmp_path, "--by", "colour"), 2, "colour"),
    ):
        done = run(*words)
        assert (done.exit_code, said in done.output) == (code, True), done.output


@pytest.mark.parametrize("name", ["result", "credits", "findings", "rejected"])
def test_every_format_holds_the_same_cells(tmp_path, name):
    """Parquet read back by Polars and by DuckDB, JSON Lines by the standard library."""
    for kind in ("csv", "jsonl", "parquet"):
        done = run("credit", WEEK, "--out", tmp_path, "--format", kind, "--by", "campaign,day", *SETTINGS)
        assert done.exit_code == 0, done.output
    with (tmp_path / f"{name}.csv").open(newline="") as file:
        wanted = list(csv.DictReader(file))
    lines = [json.loads(line) for line in (tmp_path / f"{name}.jsonl").read_text().splitlines()]
    typed = polars.read_parquet(tmp_path / f"{name}.parquet")
    assert duckdb.sql(f"SELECT count(*) FROM '{tmp_path}/{name}.parquet'").fetchall() == [(len(wanted),)]
    assert [list(line) for line in lines] == [list(row) for row in wanted]
    assert typed.columns == list(wanted[0] if wanted else typed.columns)
    for row, line, cells in zip(wanted, lines, typed.iter_rows(named=True), strict=True):
        for column, cell in row.items():
            for other in (line[column], cells[column]):
                if isinstance(other, float):
                    assert other == float(cell)
                elif isinstance(other, int | Decimal):
                    assert other == Decimal(cell)
                elif isinstance(other, datetime):
                    assert other == datetime.fromisoformat(cell)
                else:
                    assert (other or "") == cell.removeprefix("'")


@pytest.mark.parametrize("name", ["result", "credits", "findings", "rejected"])
def test_a_workbook_holds_the_same_cells(tmp_path, name):
    """Read back by openpyxl: numbers are numbers with their decimals shown, text is text; the same bytes each time."""
    (tmp_path / "visits.csv").write_bytes(
        b"visit_id,occurred_at,url\nv1,2026-03-02T10:00:00Z,/?utm_source=zeta&utm_medium=cpc&utm_campaign=%3D1%2B1\n"
        b"v2,never,/\n"
    )
    (tmp_path / "conversions.csv").write_bytes(
        b"conversion_id,occurred_at,goal,visitor_id,total\nc1,2026-03-02T11:00:00Z,sale,,1234567890.10\n"
    )
    (tmp_path / "spend.csv").write_bytes(b"day,platform,campaign,cost,claimed_value\n2026-03-02,Q,=1+1,12.50,-3.00\n")
    books = []
    for kind, out in (("csv", "a"), ("xlsx", "a"), ("xlsx", "b")):
        done = run("credit", tmp_path, "--out", tmp_path / out, "--format", kind)
        assert done.exit_code == 0, done.output
        books += [(tmp_path / out / f"{name}.xlsx").read_bytes()] if kind == "xlsx" else []
    assert books[0] == books[1]
    with (tmp_path / "a" / f"{name}.csv").open(newline="") as file:
        wanted = list(csv.reader(file))
    sheet = load_workbook(io.BytesIO(books[0])).active
    assert (sheet.max_row, sheet.max_column) == (max(1, len(wanted)), len(wanted[0]))
    for row, cells in zip(wanted, sheet.iter_rows(), strict=True):
        for text, cell in zip(row, cells, strict=True):
            if cell.data_type == "n":
                assert Decimal(str(cell.value)) == Decimal(text) if text else cell.value is None
                assert not text or cell.number_format == ("0." + "0" * len(text.partition(".")[2])).rstrip(".")
            else:
                assert (cell.data_type, cell.value) == ("s", text.removeprefix("'"))


def test_money_is_never_a_binary_float(tmp_path):
    run("credit", WEEK, "--out", tmp_path, "--format", "parquet", *SETTINGS)
    types = polars.read_parquet_schema(tmp_path / "result.parquet")
    for column in ("value", "spend", "profit", "claimed_value", "claimed_conversions"):
        assert isinstance(types[column], polars.Decimal), column
    assert types["leads"] == polars.Float64
    assert types["touches"] == polars.Int64
    assert types["roas"] == polars.Float64


def test_results_without_rows_keep_their_columns(tmp_path):
    (tmp_path / "visits.csv").write_text("visit_id,occurred_at,url\n")
    for kind in ("jsonl", "parquet"):
        done = run("credit", tmp_path, "--out", tmp_path / "out", "--format", kind)
        assert done.exit_code == 0, done.output
    assert (tmp_path / "out" / "result.jsonl").read_text() == ""
    assert "roas" in polars.read_parquet_schema(tmp_path / "out" / "result.parquet")


@pytest.mark.parametrize("claimed", ["0.123456789012345", "3", "0." + "1" * 18, "0." + "1" * 30])
def test_parts_of_claimed_conversions_have_as_many_places_as_they_came_with(tmp_path, claimed):
    (tmp_path / "visits.csv").write_text("visit_id,occurred_at,url\n")
    head = "day,platform,campaign,cost,claimed_conversions\n"
    (tmp_path / "spend.csv").write_text(f"{head}2026-04-01,Quorrin,A,5.00,{claimed}\n")
    for kind in ("csv", "jsonl", "parquet"):
        assert run("credit", tmp_path, "--out", tmp_path / "out", "--format", kind).exit_code == 0
    with (tmp_path / "out" / "result.csv").open(newline="") as file:
        wanted = Decimal(next(csv.DictReader(file))["claimed_conversions"])
    query = f"SELECT CAST(claimed_conversions AS VARCHAR) FROM '{tmp_path}/out/result.parquet' LIMIT 1"
    found = pq.read_table(tmp_path / "out" / "result.parquet")["claimed_conversions"][0].as_py()
    assert found == wanted
    if len(claimed) < 20:
        assert Decimal(duckdb.sql(query).fetchall()[0][0]) == wanted


def test_an_unknown_format_is_refused(tmp_path):
    done = run("credit", WEEK, "--out", tmp_path, "--format", "xls")
    assert (done.exit_code, "use csv, jsonl, parquet" in done.output) == (2, True)


def test_the_command_starts_without_what_only_the_app_needs():
    """Loading the database's library alone takes half as long again as a small command."""
    said = (
        "import sys, yardstick.cli; print([m for m in ('sqlalchemy', 'fastapi', 'babel', 'numba') if m in sys.modules])"
    )
    done = subprocess.run([sys.executable, "-c", said], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def test_settings_that_lie_beside_the_files_and_are_not_used_are_said(tmp_path):
    done = run("credit", WEEK, "--out", tmp_path)
    assert (
        f"{WEEK / 'settings.toml'} lies here and is not used: --settings {WEEK / 'settings.toml'} uses it"
        in done.stderr
    )
    assert "not used" not in run("credit", WEEK, "--out", tmp_path, *SETTINGS).stderr


def test_results_of_another_run_never_stand_beside_its_own(tmp_path):
    """Verdicts of the run before lay beside figures of this one, and its CSV beside this one's Parquet."""
    assert run("credit", WEEK, "--out", tmp_path, *SETTINGS, "--certainty").exit_code == 0
    (tmp_path / "mine.csv").write_text("a\n1\n")
    assert (tmp_path / "verdicts.csv").exists()
    assert run("credit", WEEK, "--out", tmp_path, "--format", "parquet").exit_code == 0
    kinds = ("coverage", "credits", "findings", "matters", "rejected", "result")
    assert {p.name for p in tmp_path.iterdir()} == {*(f"{kind}.parquet" for kind in kinds), "summary.json", "mine.csv"}


def test_what_no_run_of_ours_wrote_is_left_alone(tmp_path):
    (tmp_path / "verdicts.csv").write_text("mine\n")
    (tmp_path / "summary.json").write_text('{"other": 1}')
    assert run("credit", WEEK, "--out", tmp_path, *SETTINGS).exit_code == 0
    assert (tmp_path / "verdicts.csv").read_text() == "mine\n"


def test_no_credit_is_a_plain_0_in_typed_tables(tmp_path):
    """As a decimal of ten places a notebook showed it as 0E-10."""
    assert run("credit", WEEK, "--out", tmp_path, *SETTINGS, "--format", "parquet").exit_code == 0
    shown = polars.read_parquet(tmp_path / "result.parquet").to_pandas().to_string()
    assert "0E-" not in shown
    assert "0.0" in shown
