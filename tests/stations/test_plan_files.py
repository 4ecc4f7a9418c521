"""Lists of the plan as files: out and the same back in, by adding, updating or replacing, with what each would do."""

from __future__ import annotations

import io

import pyarrow.parquet as pq
import pytest
from openpyxl import Workbook, load_workbook

from ground import say_ground
from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.results.sheets import KINDS
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.stations.plan.change_plan import change_records, read_plan, undo_plan
from yardstick.stations.plan.exchange_lists import rehearse_section, section_file, take_in_section

LEGEND = [
    {
        "source": "ostrel",
        "from": "2026-01-01",
        "fixed": {"channel": "Paid social", "item": "a, b"},
        "utm_term": "group",
    }
]
GOALS = [{"name": "ticket", "click_days": "45", "kind": "sale", "count": "every", "fixed_value": "12.50"}]
RULES = [{"name": "Partners", "when": [{"field": "source", "op": "is one of", "value": ["a", "b"]}]}]
CAMPAIGNS: list[dict[str, object]] = [
    {"name": "Whale Boats", "vouchers": ["X", "Y"], "budget": "12.50", "starts": "2026-03-01"},
    {"name": "Year Card", "owner": "Maren"},
]


def put(desk, section, records):
    change_records(desk, section, records, read_plan(desk).basis)


def now(desk, section="campaign"):
    return read_plan(desk).sections[section]


def counts(desk, content, name="c.csv", section="campaign"):
    found = rehearse_section(desk, section, name, content)
    return found.rows, found.new, found.changed, found.same, found.gone


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize(
    ("section", "records"), [("legend", LEGEND), ("goal", GOALS), ("channel", RULES), ("campaign", CAMPAIGNS)]
)
def test_a_list_goes_out_in_every_format_and_comes_back_the_same(desk, section, records, kind):
    put(desk, section, records)
    before = now(desk, section)
    content = section_file(desk, section, kind)
    assert counts(desk, content, f"x.{kind}", section) == (len(records), 0, 0, len(records), 0)
    for how in ("add", "update", "replace"):
        take_in_section(desk, section, f"x.{kind}", content, how)
        assert now(desk, section) == before
    put(desk, section, [])
    take_in_section(desk, section, f"x.{kind}", content)
    assert counts(desk, content, f"x.{kind}", section)[3] == len(records)


def test_numbers_are_numbers_for_a_spreadsheet_and_for_code(desk):
    put(desk, "goal", [{**GOALS[0], "click_days": 45}])
    book = load_workbook(io.BytesIO(section_file(desk, "goal", "xlsx"))).active
    row = dict(zip([c.value for c in book[1]], [c.value for c in book[2]], strict=True))
    assert (row["click_days"], row["fixed_value"]) == (45, 12.5)
    table = pq.read_table(io.BytesIO(section_file(desk, "goal", "parquet"))).to_pylist()[0]
    assert str(table["click_days"]) in ("45", "45.00")


def test_a_file_is_added_updates_or_replaces_and_says_before_what_it_would_do(desk):
    put(desk, "campaign", CAMPAIGNS)
    file = b"name,owner,budget\nwhale boats,Tove,12.5\nSchool Trips,Bo,\n"
    assert counts(desk, file) == (2, 1, 1, 0, 1)
    take_in_section(desk, "campaign", "c.csv", file, "add")
    assert now(desk) == [*CAMPAIGNS, {"name": "School Trips", "owner": "Bo"}]
    undo_plan(desk)
    take_in_section(desk, "campaign", "c.csv", file, "update")
    # What the file has no column for stays; an empty cell empties.
    assert now(desk)[0] == {**CAMPAIGNS[0], "name": "whale boats", "owner": "Tove"}
    assert [c["name"] for c in now(desk)] == ["whale boats", "Year Card", "School Trips"]
    undo_plan(desk)
    take_in_section(desk, "campaign", "c.csv", file, "replace")
    assert now(desk) == [
        {"name": "whale boats", "owner": "Tove", "budget": "12.50"},
        {"name": "School Trips", "owner": "Bo"},
    ]
    undo_plan(desk)
    assert now(desk) == CAMPAIGNS


def test_an_empty_cell_of_an_update_empties_and_rules_are_told_by_all_their_fields(desk):
    put(desk, "campaign", CAMPAIGNS)
    take_in_section(desk, "campaign", "c.csv", b"name,owner\nYear Card,\n", "update")
    assert now(desk) == [CAMPAIGNS[0], {"name": "Year Card"}]
    put(desk, "channel", RULES)
    other = b'name,when\nPartners,"[{""field"": ""source"", ""op"": ""is"", ""value"": ""c""}]"\n'
    assert counts(desk, other, section="channel") == (1, 1, 0, 0, 1)


@pytest.mark.parametrize(
    ("written", "starts", "budget"),
    [
        ("31.12.2026;12.000,50", "2026-12-31", "12000.50"),
        ("12/31/2026;12,000.50", "2026-12-31", "12000.50"),
        ("2026-12-31;12000.50", "2026-12-31", "12000.50"),
        ("31 Dec 2026;12 000,5", "2026-12-31", "12000.5"),
        ("2026-12-31;1.234", "2026-12-31", "1.234"),
    ],
)
def test_days_and_numbers_are_read_as_exports_write_them(desk, written, starts, budget):
    take_in_section(desk, "campaign", "c.csv", f"name;starts;budget\nA;{written}\n".encode())
    assert now(desk) == [{"name": "A", "starts": starts, "budget": budget}]


def test_days_and_numbers_that_can_be_read_twice_are_asked_about(desk):
    with pytest.raises(FileProblem, match=r"line 2, starts: .*2026-03-31"):
        take_in_section(desk, "campaign", "c.csv", b"name,starts\nA,03/04/2026\n")
    with pytest.raises(FileProblem, match="line 2, budget: does the sign of 12,000 stand before decimals"):
        take_in_section(desk, "campaign", "c.csv", b'name,budget\nA,"12,000"\n')
    # Another row decides.
    take_in_section(
        desk,
        "campaign",
        "c.csv",
        b'name,starts,budget\nA,03/04/2026,"12,000"\nB,31/04/2026,"1,000.50"\n'.replace(b"31/04", b"30/04"),
    )
    assert [(c["starts"], c["budget"]) for c in now(desk)] == [("2026-04-03", "12000"), ("2026-04-30", "1000.50")]


def test_a_day_of_a_workbook_is_a_day(desk):
    from datetime import date

    book = Workbook()
    book.active.append(["name", "starts", "budget"])
    book.active.append(["A", date(2026, 3, 1), 12000.5])
    out = io.BytesIO()
    book.save(out)
    take_in_section(desk, "campaign", "c.xlsx", out.getvalue())
    assert now(desk) == [{"name": "A", "starts": "2026-03-01", "budget": "12000.5"}]


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("x.csv", b"name,colour\nA,red\n", "colour is not a column here"),
        ("x.parquet", b"PAR1 nothing", "not readable as Parquet"),
        ("x.jsonl", b'{"name": "A"}\n[1]\n', "line 2: not a JSON object"),
        ("x.jsonl", b"[" * 100_000, "line 1: not a JSON object"),
    ],
)
def test_what_is_no_list_is_refused_with_where(desk, name, content, said):
    with pytest.raises(FileProblem, match=said):
        take_in_section(desk, "campaign", name, content)
    assert now(desk) == []


def test_a_locked_expectation_is_that_of_the_campaign_whatever_is_taken_out_and_added(desk):
    say_ground(desk)
    locked = {"name": "A", "expected_value": "900.00", "expected_leads": "3", "locked_on": "2026-03-01"}
    put(desk, "campaign", [locked])
    put(desk, "campaign", [])
    for bent in ({"expected_value": "90.00"}, {"locked_on": ""}, {"expected_leads": ""}):
        with pytest.raises(SettingsError, match="locked on 2026-03-01"):
            put(desk, "campaign", [locked | bent])
    with pytest.raises(SettingsError, match="locked"):
        take_in_section(desk, "campaign", "c.csv", b"name,expected_value\nA,90.00\n")
    put(desk, "campaign", [{"name": "B"}])
    put(desk, "campaign", [{"name": "B"}, locked])
    assert now(desk)[1] == locked
    settings = b'home_currency = "EUR"\ntime_zone = "UTC"\n[[campaign]]\nname = "A"\nexpected_value = "90.00"\n'
    (file,) = rehearse(desk, [("settings.toml", io.BytesIO(settings))]).files
    assert "locked on 2026-03-01" in file.problem
    assert now(desk)[1] == locked


def test_a_campaign_without_a_state_is_approved_and_a_dialect_of_letters_is_refused(desk):
    put(desk, "campaign", [{"name": "A"}])
    assert desk.plan().campaigns[0].state == "approved"
    with pytest.raises(SettingsError, match="is a word like any other"):
        put(desk, "dialect", [{"platform": "Quorrin", "opens": "x", "closes": "}"}])
