"""The board over HTTP: files that carry what was asked, verdicts to sort and filter by, dead ends, quarantine in range."""

from __future__ import annotations

import csv
import gzip
import io
import json
import random
import re
from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal
from pathlib import Path

import pyarrow.parquet as pq
import pytest
from openpyxl import load_workbook

from command import run
from planned_week import planned_week_files
from web.http_files import load
from week import FOLDER, week_files
from yardstick.stations.weigh.findings import KINDS

BOARD = "/api/w/test/weigh/board"


@pytest.fixture
def week(client):
    load(client, week_files())
    return client


def rows_of(answer):
    return list(csv.DictReader(io.StringIO(answer.text)))


@pytest.mark.parametrize("kind", ["csv", "xlsx", "parquet", "jsonl"])
def test_a_file_carries_what_was_asked_in_every_row_and_in_its_name(week, kind):
    asked = {
        "from": "2026-03-02",
        "to": "2026-03-08",
        "yardstick": "last",
        "click_days": "14",
        "where": "medium is cpc",
    }
    answer = week.get(f"{BOARD}.{kind}", params=asked)
    assert answer.status_code == 200, answer.text
    board = week.get(BOARD, params=asked).json()
    name = answer.headers["content-disposition"]
    assert f"-board-campaign-2026-03-02-to-2026-03-08-last-{board['fingerprint']}.{kind}" in name
    if kind == "csv":
        lines = rows_of(answer)
    elif kind == "xlsx":
        head, *cells = load_workbook(io.BytesIO(answer.content)).active.iter_rows(values_only=True)
        lines = [dict(zip(head, row, strict=True)) for row in cells]
    elif kind == "parquet":
        lines = pq.read_table(io.BytesIO(answer.content)).to_pylist()
    else:
        lines = [json.loads(line) for line in answer.text.splitlines()]
    assert [line["campaign"] for line in lines] == [row["called"] for row in board["rows"]]
    for line in lines:
        assert (line["range_from"], line["range_to"]) == ("2026-03-02", "2026-03-08")
        assert (line["yardstick"], line["look_back_days"], line["filters"]) == ("last", "14", "medium is cpc")
        assert (line["fingerprint"], line["data_state"]) == (board["fingerprint"], board["data"])


def as_a_browser(figure, places):
    """The shortest decimal, halves away from zero (ECMA-402); screens/test_truth.py holds the browser against it."""
    return str(Decimal(repr(figure)).quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP))


def test_figures_stand_as_shown_and_in_full(week):
    board = week.get(BOARD).json()
    lines = {line["campaign"]: line for line in rows_of(week.get(f"{BOARD}.csv"))}
    for row in board["rows"]:
        line, under = lines[row["called"]], row["under"]["linear"]
        assert line["leads"] == as_a_browser(under["leads"], 1)
        assert float(line["leads_full"]) == pytest.approx(under["leads"], abs=1e-9)
        assert (line["roas"] == "") == (under["roas"] is None)
        if under["roas"] is not None:
            assert line["roas"] == as_a_browser(under["roas"], 2)
            assert float(line["roas_full"]) == pytest.approx(under["roas"], rel=1e-7)


def test_every_figure_of_the_result_can_be_shown_sorted_by_and_taken_away(week, tmp_path):
    """The board's figures are those of `result.csv`, which the library gives of the same files."""
    sets = week.get(BOARD).json()["column_sets"]
    assert sets["traffic"] == [
        *("clicks", "touches", "cost_per_click", "conversion_rate", "bounce_rate", "value_per_touch")
    ]
    named = {"sales": "conversions", "cost_per_sale": "cost_per_conversion"}
    columns = [column["name"] for column in week.get(BOARD).json()["columns"]]
    result = {line["campaign"]: line for line in core_rows(tmp_path) if line["yardstick"] == "linear"}
    assert {named.get(name, name) for name in columns} - {"good_rate"} == {*next(iter(result.values()))} - {
        *("yardstick", "bucket", "campaign")
    }
    asked = {"columns": columns}
    board = week.get(BOARD, params=asked).json()
    file = {line["campaign"]: line for line in rows_of(week.get(f"{BOARD}.csv", params=asked))}
    for row in board["rows"]:
        if row["bucket"] != "named":
            continue
        line, mine = file[row["called"]], result[row["called"]]
        for column in board["columns"]:
            name, full = column["name"], line.get(f"{column['name']}_full", line[column["name"]])
            if name != "good_rate":
                assert full == mine[named.get(name, name)], name
            sent = row["under"]["linear"][name]
            minor = 100 if column["kind"] == "money" else 1
            assert (sent is None) == (full == "")
            assert sent is None or float(full) == pytest.approx(sent / minor, rel=1e-7)
    for name in columns:
        sent = week.get(BOARD, params={"columns": name, "sort": name}).json()["rows"]
        figures = [f for row in sent if row["bucket"] == "named" if (f := row["under"]["linear"][name]) is not None]
        assert figures == sorted(figures, reverse=True)
    taken = week.get(f"{BOARD}.csv", params={"columns": ["quality", "claimed_value"]})
    head = taken.text.splitlines()[0].split(",")
    assert head[:10] == ["bucket", "campaign", "yardstick", "touches", *sets["quality"]]
    assert head[10] == "claimed_value"
    wrong = week.get(BOARD, params={"columns": "clciks"})
    assert wrong.status_code == 422
    assert "there is no column 'clciks'; there are money, traffic, quality, spend" in wrong.json()["message"]


def core_rows(out):
    """The rows of `result.csv` of the worked week, as the command writes them."""
    assert run("credit", FOLDER, "--out", out / "of", "--settings", FOLDER / "settings.toml").returncode == 0
    return list(csv.DictReader((out / "of" / "result.csv").open(newline="")))


def three_campaigns():
    """Of fifteen sales of 10.00 each: one that cost nearly nothing, one that cost far more, one that cost as much."""
    visits, sales, spend = [], [], []
    for name, cost in (("Even", "150.00"), ("Dear", "1000.00"), ("Cheap", "10.00")):
        for i in range(15):
            tags = f"utm_source=zeta&utm_medium=cpc&utm_campaign={name}"
            visits.append(f"{name}{i},2026-03-02T10:{i:02d}:00Z,{name}{i},/?{tags}")
            sales.append(f"o{name}{i},2026-03-02T11:{i:02d}:00Z,sale,{name}{i},10.00")
        spend.append(f"2026-03-02,Zeta,{name},{cost}")
    return [
        ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
        ("conversions.csv", "\n".join(["conversion_id,occurred_at,goal,visitor_id,total", *sales]).encode()),
        ("spend.csv", "\n".join(["day,platform,campaign,cost", *spend]).encode()),
        ("settings.toml", b'target_roas = "4"\n'),
    ]


def test_verdicts_sort_and_filter_on_screen_and_in_the_file_alike(client):
    week = client
    load(week, three_campaigns())
    certain = week.get("/api/w/test/weigh/certainty").json()
    words = {tuple(row["values"]): row["verdicts"].get("sale", {}).get("code") for row in certain["rows"]}
    board = week.get(BOARD, params={"sort": "verdict"}).json()
    said = [words[tuple(row["values"])] for row in board["rows"] if words.get(tuple(row["values"]))]
    order = ["grow", "keep", "unsure", "depends", "too_early", "too_few", "cut"]
    assert said == ["grow", "unsure", "cut"]
    assert said == sorted(said, key=order.index)
    back = week.get(BOARD, params={"sort": "verdict", "descending": False}).json()
    turned = [words[tuple(row["values"])] for row in back["rows"] if words.get(tuple(row["values"]))]
    assert turned == sorted(said, key=order.index, reverse=True)
    wanted = said[0]
    found = week.get(BOARD, params={"verdict": wanted}).json()
    names = [row["called"] for row in found["rows"] if row["found"]]
    assert names == [row["called"] for row in found["rows"] if words.get(tuple(row["values"])) == wanted]
    assert [line["campaign"] for line in rows_of(week.get(f"{BOARD}.csv", params={"verdict": wanted}))] == names


def test_rows_come_under_the_yardsticks_that_are_looked_at(week):
    rows = week.get(BOARD, params={"rulers_only": True, "panel": ["decay"], "yardstick": "last"}).json()["rows"]
    assert all(set(row["under"]) == {"decay", "last"} for row in rows)
    rows = week.get(BOARD, params={"rulers_only": True}).json()["rows"]
    assert all(set(row["under"]) == {"first", "last", "linear", "fair_share"} for row in rows)


def test_a_filter_that_fits_nothing_names_what_may_have_been_meant(client):
    """By the names reports show and by codes alike."""
    load(client, planned_week_files())
    plan = client.get("/api/w/test/plan").json()
    body = {"basis": plan["basis"], "records": [{"name": "Midnight Boat", "code": "mnb-26"}]}
    assert client.put("/api/w/test/plan/sections/campaign", json=body).status_code == 200
    for asked, meant in (("campaign is Midnihgt Boat", "Midnight Boat"), ("campaign is MNB-26", "Midnight Boat")):
        board = client.get(BOARD, params={"where": asked}).json()
        assert board["nearest"][asked][0] == meant
    assert client.get(BOARD, params={"where": "campaign is Midnight Boat"}).json()["nearest"] == {}


def test_quarantine_follows_the_range(week):
    def quarantined(**asked):
        ties = week.get(BOARD, params=asked).json()["ties"]
        trace = week.get("/api/w/test/weigh/trace/quarantined", params=asked).json()
        assert trace["value"] == ties["quarantined_value"]
        return ties["quarantined_records"], ties["quarantined_value"]

    whole = quarantined()
    days = [f"2026-03-{day:02d}" for day in range(1, 32)]
    by_day = [quarantined(**{"from": day, "to": day}) for day in days]
    assert whole[0] > 0
    assert tuple(map(sum, zip(*by_day, strict=True))) == whole
    assert (0, 0) in by_day


def test_answers_are_compressed_but_for_what_is_already(week):
    plain = week.get(BOARD, headers={"accept-encoding": "identity"})
    small = week.get(BOARD, headers={"accept-encoding": "gzip"})
    assert ("content-encoding" in plain.headers, small.headers["content-encoding"]) == (False, "gzip")
    assert small.json() == plain.json()
    assert len(gzip.compress(plain.content)) < len(plain.content) / 3
    for path in ("weigh/board.xlsx", "gather/package.zip", "weigh/board.parquet"):
        assert "content-encoding" not in week.get(f"/api/w/test/{path}", headers={"accept-encoding": "gzip"}).headers


def test_fourteen_months_by_day_are_sent_in_less_than_60_kb(client):
    """With money and counts as uneven as real ones, under the usual panel, compressed."""
    chance = random.Random(5)
    visits, sales, spend = (
        ["visit_id,occurred_at,visitor_id,url"],
        ["conversion_id,occurred_at,goal,visitor_id,total"],
        ["day,platform,campaign,cost"],
    )
    for n in range(426):
        day = date(2025, 9, 1) + timedelta(n)
        for i in range(5):
            tags = f"utm_source=s{i % 3}&utm_medium=cpc&utm_campaign=C{chance.randrange(9)}"
            visits.append(f"v{n}-{i},{day}T1{i}:00:00Z,p{chance.randrange(400)},/?{tags}")
        sales.extend(
            f"o{n}-{i},{day}T2{i}:00:00Z,sale,p{chance.randrange(400)},{chance.randrange(100, 30_000) / 100}"
            for i in range(3)
        )
        spend.append(f"{day},Zeta,C{chance.randrange(9)},{chance.randrange(100, 90_000) / 100}")
    files = (("visits.csv", visits), ("conversions.csv", sales), ("spend.csv", spend))
    load(client, [(name, "\n".join(lines).encode()) for name, lines in files])
    answer = client.get(BOARD, params={"by": "day", "rulers_only": True}, headers={"accept-encoding": "identity"})
    assert len(answer.json()["rows"]) >= 426
    assert len(gzip.compress(answer.content, 6)) < 60_000


def test_every_finding_that_the_rules_list_has_words_a_rule_and_a_place():
    rules = (Path(__file__).parents[2] / "docs" / "rules.md").read_text()
    listed = rules.partition("## Findings")[2].partition("\n## ")[0]
    codes = {
        code
        for line in listed.splitlines()
        for code in re.findall(r"`([a-z_]+)`", line.split("|")[1] if "|" in line else "")
    }
    assert codes == set(KINDS)
    assert all(kind.words and kind.about.endswith(".") and re.fullmatch(r"R\d+", kind.rule) for kind in KINDS.values())


def test_an_order_below_nothing_is_worth_nothing_and_is_found(tmp_path):
    (tmp_path / "visits.csv").write_text("visit_id,occurred_at,url\nv,2026-03-02T09:00:00Z,/\n")
    orders = "o1,2026-03-02T10:00:00Z,sale,10.00\no2,2026-03-02T11:00:00Z,sale,-4.50\n"
    (tmp_path / "conversions.csv").write_text("conversion_id,occurred_at,goal,total\n" + orders)
    assert run("credit", tmp_path, "--out", tmp_path / "out").returncode == 0
    (found,) = csv.DictReader((tmp_path / "out" / "findings.csv").open(newline=""))
    assert [found[name] for name in ("code", "level", "id", "field", "value", "line")] == [
        *("negative_total", "warning", "o2", "total", "-4.5", "3")
    ]
    rows = csv.DictReader((tmp_path / "out" / "result.csv").open(newline=""))
    assert {row["value"] for row in rows if row["bucket"] == "no_trail"} == {"10.00"}


def test_what_flips_a_verdict_is_seen_from_the_chosen_yardstick(client):
    """24 people come by A, then by B, and buy for 10.00; A costs 150.00: it pays by first touch, not by last."""
    visits, sales = [], []
    for i in range(24):
        for n, name in enumerate("AB"):
            tags = f"utm_source=zeta&utm_medium=cpc&utm_campaign={name}"
            visits.append(f"{name}{i},2026-03-02T1{n}:{i:02d}:00Z,p{i},/?{tags}")
        sales.append(f"o{i},2026-03-02T13:{i:02d}:00Z,sale,p{i},10.00")
    load(
        client,
        [
            ("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *visits]).encode()),
            ("conversions.csv", "\n".join(["conversion_id,occurred_at,goal,visitor_id,total", *sales]).encode()),
            ("spend.csv", b"day,platform,campaign,cost\n2026-03-02,Zeta,A,150.00\n"),
        ],
    )

    def flips(yardstick):
        asked = {"yardstick": yardstick, "panel": ["first", "last", "linear"]}
        rows = client.get("/api/w/test/weigh/certainty", params=asked).json()["rows"]
        verdict = next(row["verdicts"]["sale"] for row in rows if row["values"] == ["A"])
        assert verdict["code"] == "depends"
        return verdict["flips_under"]

    # By first touch A has 240.00, by linear 120.00, by last touch nothing.
    assert [flips(name) for name in ("first", "last", "linear", "position")] == ["linear", "first", "first", "first"]
