"""The worked week: every total against the hand calculation in docs/worked-week.md."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
from pathlib import Path

import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from openpyxl import Workbook

import yardstick.demo
from command import Done
from command import run as run_any
from week_by_hand import BUCKETS, WEEK_ONE, assert_cells

WEEK = Path(yardstick.demo.__file__).parent / "worked_week"


def read(path: Path) -> list[dict[str, str]]:
    with path.open(newline="", encoding="utf-8") as file:
        return list(csv.DictReader(file))


def run(*words: str | Path) -> Done:
    return run_any("credit", *words)


@pytest.fixture(scope="module")
def results(tmp_path_factory):
    out = tmp_path_factory.mktemp("week")
    done = run(WEEK, "--out", out, "--settings", WEEK / "settings.toml")
    assert done.returncode == 0, done.stderr
    return out


def test_every_cell_is_as_worked_out_by_hand(results):
    assert_cells(read(results / "result.csv"), WEEK_ONE)


def test_ratios_are_those_of_the_sums(results):
    rows = {(r["yardstick"], r["campaign"], r["bucket"]): r for r in read(results / "result.csv")}
    card = rows["linear", "Two-Island Year Card", "named"]
    assert float(card["cost_per_lead"]) == pytest.approx(55.30 / 1.5, rel=1e-9)
    assert float(card["roas"]) == pytest.approx(130.90 / 55.30, rel=1e-9)
    assert card["profit"] == "10.15"  # 130.90 x 0.5 - 55.30
    boats = rows["linear", "Spring Whale Boats", "named"]
    assert (boats["cost_per_lead"], boats["roas"], boats["claimed_conversions"], boats["claimed_value"]) == (
        "",
        "1.4",
        "4",
        "400.00",
    )
    untagged = rows["linear", "", "untagged"]
    assert (untagged["spend"], untagged["roas"], untagged["clicks"], untagged["profit"]) == ("", "", "", "")


def test_buckets_without_touches(results):
    rows = read(results / "result.csv")
    for rule in ("first", "last", "last_marked", "linear", "position", "decay", "fair_share", "removal"):
        mine = {r["bucket"]: r for r in rows if r["yardstick"] == rule and r["bucket"] not in ("named", *BUCKETS)}
        assert set(mine) == {"no_trail", "no_touch_spend"}
        assert (mine["no_trail"]["leads"], mine["no_trail"]["conversions"], mine["no_trail"]["value"]) == (
            "1",
            "1",
            "20.00",
        )
        assert mine["no_trail"]["touches"] == ""
        assert (mine["no_touch_spend"]["campaign"], mine["no_touch_spend"]["spend"]) == ("Two-Bike Deck", "12.00")


def test_summary_accounts_for_every_row_and_cent(results):
    summary = json.loads((results / "summary.json").read_text())
    totals = summary["totals"]
    assert totals["booked"] == {"leads": 4, "good_leads": 2, "conversions": 6, "value": "452.57"}
    assert (totals["invoiced"], totals["matched"], totals["unmatched"]) == ("197.30", "185.30", "12.00")
    assert totals["quarantined_value"] == "999.00"
    assert (totals["ads_only"]["linear"]["value"], totals["ads_only"]["linear"]["roas"]) == ("270.90", "1.37303598581")
    assert (totals["blended"]["linear"]["value"], totals["blended"]["linear"]["roas"]) == ("452.57", "2.29381652306")
    assert summary["files"]["visits.csv"] == {
        "lines": 19,
        "header": 1,
        "skipped": 0,
        "read": 18,
        "accepted": 16,
        "rejected": 2,
        "repeated": 0,
        "replaced": 0,
        "spread": 0,
        "quarantined": 1,
    }
    assert summary["files"]["spend.csv"] == {
        "lines": 9,
        "header": 1,
        "skipped": 0,
        "read": 8,
        "accepted": 6,
        "rejected": 1,
        "repeated": 1,
        "replaced": 0,
        "spread": 0,
        "quarantined": 0,
    }
    assert summary["findings"] == {"identical_row": 1, "unfilled_slot": 1}
    assert summary["settings"]["home_currency"] == "AUD"


def test_rejected_rows_name_line_column_and_reason(results):
    rejected = [(r["file"], r["line"], r["column"], r["value"]) for r in read(results / "rejected.csv")]
    assert rejected == [
        ("visits.csv", "18", "url", "ftp://www.lunnick.example/boats"),
        ("visits.csv", "19", "occurred_at", "2026-02-31T10:05:00+10:30"),
        ("spend.csv", "9", "currency", "EUR"),
    ]
    assert all(r["reason"] for r in read(results / "rejected.csv"))


def test_credits_add_up_per_conversion(results):
    worth = {"o1": 12000, "o2": 10000, "o3": 9090, "o4": 5500, "o6": 6667, "l1": 0, "l2": 0, "l3": 0}
    sums: dict[tuple[str, str], list[float]] = {}
    for r in read(results / "credits.csv"):
        both = sums.setdefault((r["yardstick"], r["conversion_id"]), [0.0, 0])
        both[0] += float(r["share"])
        both[1] += round(float(r["value"]) * 100)
    for rule in ("first", "last", "last_marked", "linear", "position", "decay", "fair_share"):
        mine = {c: s for (y, c), s in sums.items() if y == rule}
        assert {c: s[1] for c, s in mine.items()} == worth
        assert all(s[0] == pytest.approx(1, abs=1e-9) for s in mine.values())


def test_captured_sets_have_no_visit_and_earn_credit(results):
    edda = [r for r in read(results / "credits.csv") if r["conversion_id"] == "l3" and r["yardstick"] == "linear"]
    assert [(r["visit_id"], r["touched_at"], r["share"]) for r in edda] == [
        ("", "2026-03-02T22:30:00Z", "0.5000000000"),
        ("", "2026-03-05T05:30:00Z", "0.5000000000"),
    ]


@pytest.mark.parametrize("by", ["channel", "source", "medium", "goal", "day", "campaign,channel", "day,goal"])
def test_every_breakdown_adds_up_to_the_same_books(tmp_path, by):
    assert run(WEEK, "--out", tmp_path, "--settings", WEEK / "settings.toml", "--by", by).returncode == 0
    rows = [r for r in read(tmp_path / "result.csv") if r["yardstick"] == "linear"]
    assert sum(round(float(r["value"]) * 100) for r in rows) == 45257
    assert sum(round(float(r["spend"] or 0) * 100) for r in rows) == 19730
    assert sum(float(r["leads"]) for r in rows) == pytest.approx(4)


def test_the_same_files_give_the_same_bytes_in_another_process(results, tmp_path):
    words = ["credit", str(WEEK), "--out", str(tmp_path), "--settings", str(WEEK / "settings.toml")]
    done = subprocess.run([sys.executable, "-m", "yardstick", *words], capture_output=True, text=True, timeout=60)
    assert done.returncode == 0, done.stderr
    for path in sorted(results.iterdir()):
        assert path.read_bytes() == (tmp_path / path.name).read_bytes(), path.name


@pytest.mark.parametrize(
    ("text", "named"),
    [
        ('[[yardstick]]\nname = "p"\nrule = "position"\nfirst = 0.61\n', "add up to 1.01"),
        ('[[yardstick]]\nname = "p"\nrule = "position"\nfirst = 0\nlast = 0\n', "both 0"),
        ('[[yardstick]]\nname = "p"\nrule = "position"\nfirst = 0.33333\n', "4 decimals"),
        ('[[yardstick]]\nname = "p"\nrule = "position"\nfirst = -0.1\n', "greater than or equal to 0"),
        ('[[yardstick]]\nname = "d"\nrule = "decay"\nhalf_life_days = 0\n', "above 0"),
        ('[[yardstick]]\nname = "d"\nrule = "decay"\nhalf_life_days = 1000.5\n', "1000"),
        ('[[yardstick]]\nname = "d"\nrule = "decay"\nmiddle = 1\n', "belongs to custom"),
        ('[[yardstick]]\nname = "l"\nrule = "linear"\nfirst = 1\n', "belongs to position and custom"),
        ('[[yardstick]]\nname = "c"\nrule = "custom"\nchannel = { Email = 1, EMAIL = 2 }\n', "twice"),
        ('[[yardstick]]\nname = "c"\nrule = "custom"\nchannel = { Email = "much" }\n', "channel"),
        ('[[yardstick]]\nname = "r"\nrule = "removal"\nby = "source"\n', "by"),
        ('[[yardstick]]\nname = "x"\nrule = "guess"\n', "guess"),
        ('date_basis = "event:"\n', "date_basis"),
        ('[[legend]]\nsource = "ostrel"\nterm = "colour"\n', "unknown role"),
        ("colour = 1\n", "colour"),
        ('home_currency = "ABC"\n', "ABC"),
        ('time_zone = "Mars/Base"\n', "Mars/Base"),
        ("margin = 0\n", "margin"),
        ("margin = ", "TOML"),
        ('[[goal]]\nname = "a"\ncount = "twice"\n', "count"),
        ('[[channel]]\nname = "a"\nwhen = [{ field = "colour", op = "is", value = "x" }]\n', "colour"),
        ('[[channel]]\nname = "a"\nwhen = [{ field = "source", op = "matches", value = "(" }]\n', "("),
        ('report_from = "2026-03-09"\nreport_to = "2026-03-08"\n', "report_from"),
    ],
)
def test_wrong_or_unbuilt_settings_exit_2_and_are_named(tmp_path, text, named):
    (tmp_path / "s.toml").write_text(text)
    done = run(WEEK, "--out", tmp_path / "out", "--settings", tmp_path / "s.toml")
    assert done.returncode == 2
    assert named in done.stderr
    assert not (tmp_path / "out").exists()


@pytest.mark.parametrize(
    "words",
    [["--by", "extra:size"], ["--by", "colour"], ["--by", "day,day"], ["--format", "doc"]],
)
def test_unbuilt_breakdowns_and_formats_exit_2(tmp_path, words):
    done = run(WEEK, "--out", tmp_path / "out", *words)
    assert done.returncode == 2
    assert words[1].split(",")[0] in done.stderr


def test_nothing_to_compute_exits_1(tmp_path):
    done = run(tmp_path, "--out", tmp_path / "out")
    assert done.returncode == 1
    assert "visits" in done.stderr
    (tmp_path / "visits.csv").write_text("")
    done = run(tmp_path, "--out", tmp_path / "out")
    assert done.returncode == 1
    assert "visits.csv" in done.stderr
    assert "empty" in done.stderr


def test_other_costs_are_spread_and_files_that_cannot_be_read_are_said(tmp_path):
    for path in WEEK.iterdir():
        (tmp_path / path.name).write_bytes(path.read_bytes())
    (tmp_path / "other_costs.csv").write_text(
        "from,to,campaign,cost\n2026-03-06,2026-03-09,Midnight Boat,100.00\n2026-03-06,2026-03-05,Midnight Boat,1\n"
    )
    assert run(tmp_path, "--out", tmp_path / "out", "--settings", WEEK / "settings.toml").returncode == 0
    spend = {r["campaign"]: r["spend"] for r in read(tmp_path / "out" / "result.csv") if r["yardstick"] == "linear"}
    assert spend["Midnight Boat"] == "75.00"  # three of four days are in the week
    assert "ends before it begins" in (tmp_path / "out" / "rejected.csv").read_text()
    (tmp_path / "visits.ods").write_bytes(b"PAR1")
    done = run(tmp_path, "--out", tmp_path / "out2", "--settings", WEEK / "settings.toml")
    assert done.returncode == 0
    assert "visits.ods: files ending in .ods are not read" in done.stderr
    assert "visits.ods" in json.loads((tmp_path / "out2" / "summary.json").read_text())["unread"]
    (tmp_path / "visits.csv").unlink()
    done = run(tmp_path, "--out", tmp_path / "out2", "--settings", WEEK / "settings.toml")
    assert done.returncode == 1
    assert "save it as CSV" in done.stderr


def test_the_week_as_parquet_and_workbooks_is_the_week(tmp_path):
    """Visits as Parquet, spend as a workbook with its cost as numbers, leads as UTF-16: the same bytes come out."""
    (tmp_path / "in").mkdir()
    for path in WEEK.iterdir():
        if path.suffix == ".csv":
            (tmp_path / "in" / path.name).write_bytes(path.read_bytes())
    folder = tmp_path / "in"
    rows = read(folder / "visits.csv")
    pq.write_table(pa.table({name: [row[name] for row in rows] for name in rows[0]}), folder / "visits.parquet")
    rows = read(folder / "spend.csv")
    book = Workbook()
    book.active.append(list(rows[0]))
    for row in rows:
        cells = {name: float(cell) if name in ("cost", "clicks") and cell else cell for name, cell in row.items()}
        book.active.append(list(cells.values()))
    book.save(folder / "spend.xlsx")
    for name in ("visits", "spend"):
        (folder / f"{name}.csv").unlink()
    leads = folder / "leads.csv"
    leads.write_bytes(leads.read_text("utf-8-sig").encode("utf-16"))
    outs = []
    for source, out in ((WEEK, "a"), (folder, "b")):
        done = run(source, "--out", tmp_path / out, "--settings", WEEK / "settings.toml")
        assert done.returncode == 0, done.stderr
        outs.append([(tmp_path / out / name).read_bytes() for name in ("result.csv", "credits.csv")])
    assert outs[0] == outs[1]
