"""Every setting of the project's own docs is read; limits that are settings move figures; every field breaks down."""

from __future__ import annotations

import csv
import json
import re
from pathlib import Path

import pytest
from typer.testing import CliRunner

from yardstick.cli import app
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.report_fields import FIELDS
from yardstick.formats.plan.settings_toml import SettingsFile, read_settings

DOCS = Path(__file__).resolve().parents[2] / "docs" / "formats.md"


def block() -> str:
    """The settings that docs/formats.md lists, as one file."""
    text = DOCS.read_text()
    settings = text[text.index("## Settings") :]
    lines = [line[4:] for line in settings.splitlines() if line.startswith("    ")]
    # What belongs to the top level stands at the end of the docs, too.
    top = [line for line in lines if line.startswith(("short_base", 'referrer = "as browsers'))]
    return "\n".join([*top, *(line for line in lines if line not in top)])


def run(folder, settings="", *words):
    (folder / "settings.toml").write_text(settings)
    done = CliRunner().invoke(
        app, ["credit", str(folder), "--settings", str(folder / "settings.toml"), "--out", str(folder / "out"), *words]
    )
    return done


def rows(folder, yardstick="linear"):
    return [r for r in csv.DictReader((folder / "out" / "result.csv").open()) if r["yardstick"] == yardstick]


def test_the_whole_block_of_the_docs_is_read():
    plan = read_settings(block().encode())
    assert plan.trailing.identifier_limit == 50
    assert plan.money.rate_days == 7
    assert plan.reporting.as_of == ""
    assert plan.goals


def test_every_setting_stands_in_the_docs():
    text = block()
    missing = [name for name in SettingsFile.model_fields if not re.search(rf"^(\[\[?)?{name}\b", text, re.M)]
    assert missing == []


VISITS = "visit_id,occurred_at,visitor_id,url,email\n"


@pytest.mark.parametrize(("limit", "people"), [(1, 3), (2, 1)])
def test_the_limit_of_an_identifier_is_a_setting(tmp_path, limit, people):
    """desk@ stands with two visitor ids: under a limit of one it joins nobody, and the order finds no visit."""
    (tmp_path / "visits.csv").write_text(
        VISITS
        + "a,2026-04-01T09:00:00Z,p,/?utm_campaign=A,desk@mail.example\nb,2026-04-01T10:00:00Z,q,/?utm_campaign=B,desk@mail.example\n"
    )
    (tmp_path / "conversions.csv").write_text(
        "conversion_id,occurred_at,goal,visitor_id,total\no,2026-04-02T09:00:00Z,sale,p,90.00\n"
    )
    assert run(tmp_path, f"identifier_limit = {limit}\n").exit_code == 0
    named = {r["campaign"]: r["value"] for r in rows(tmp_path) if r["bucket"] == "named"}
    assert named == ({"A": "45.00", "B": "45.00"} if people == 1 else {"A": "90.00", "B": "0.00"})


@pytest.mark.parametrize(("days", "spent"), [(7, ""), (8, "10.00")])
def test_how_old_a_rate_may_be_is_a_setting_and_what_has_none_is_said(tmp_path, days, spent):
    (tmp_path / "visits.csv").write_text(VISITS + "a,2026-04-09T09:00:00Z,p,/?utm_campaign=A,\n")
    (tmp_path / "spend.csv").write_text("day,platform,campaign,cost,currency\n2026-04-09,Q,A,100.00,SEK\n")
    (tmp_path / "rates.csv").write_text("day,base,quote,rate\n2026-04-01,SEK,EUR,0.10\n")
    assert run(tmp_path, f"rate_days = {days}\n").exit_code == 0
    assert [r["spend"] for r in rows(tmp_path) if r["campaign"] == "A"] == [spent or "0.00"]
    summary = json.loads((tmp_path / "out" / "summary.json").read_text())
    lacking = [{"table": "spend", "currency": "SEK", "rows": 1, "amount": "100.00"}]
    assert summary.get("without_rate", []) == ([] if spent else lacking)


def test_as_of_needs_its_offset(tmp_path):
    (tmp_path / "visits.csv").write_text(VISITS + "a,2026-04-09T09:00:00Z,p,/,\n")
    done = run(tmp_path, 'as_of = "2026-04-09T10:00:00"\n')
    assert done.exit_code == 2
    assert "as_of" in done.stderr
    assert "has no offset" in done.stderr


def test_records_are_broken_down_by_what_they_are_now_and_why_they_have_a_source(tmp_path):
    """One lead with a visit, one with a captured source, one with a code, one told at the desk after a direct visit, one
    direct, a sale; months of creation; statuses say what each is now."""
    (tmp_path / "visits.csv").write_text(
        VISITS
        + "a,2026-04-01T09:00:00Z,p1,/?utm_campaign=A,\nd,2026-04-01T09:00:00Z,p4,/,\ne,2026-04-01T09:00:00Z,p5,/,\n"
    )
    (tmp_path / "leads.csv").write_text(
        "lead_id,occurred_at,visitor_id,last_source,code,self_reported,stage,owner\n"
        "L1,2026-04-02T09:00:00Z,p1,,,,new,Maren\n"
        "L2,2026-04-02T09:00:00Z,p2,ostrel,,,new,\n"
        "L3,2026-05-02T09:00:00Z,p3,,WHALE,,,\n"
        "L4,2026-04-02T09:00:00Z,p4,,,poster,,\n"
        "L5,2026-04-02T09:00:00Z,p5,,,,,\n"
    )
    (tmp_path / "conversions.csv").write_text(
        "conversion_id,occurred_at,goal,visitor_id,total,status\no,2026-04-03T09:00:00Z,sale,p1,10.00,Won\n"
    )
    (tmp_path / "statuses.csv").write_text("record_id,occurred_at,stage,owner\nL1,2026-04-05T09:00:00Z,quoted,Ole\n")
    settings = '[[campaign]]\nname = "Whales"\nvouchers = ["WHALE"]\n'
    wanted = {
        "reason": {"visits": "1", "captured": "1", "code": "1", "self_reported": "1", "direct": "1"},
        "stage": {"quoted": "1", "new": "1"},
        "owner": {"Ole": "1"},
        "status": {"won": "0"},
        "created_month": {"2026-04": "4", "2026-05": "1"},
    }
    for by, leads in wanted.items():
        done = run(tmp_path, settings, "--by", by)
        assert done.exit_code == 0, done.output
        found = {r[by]: r["leads"] for r in rows(tmp_path) if r["bucket"] == "named"}
        assert found == leads, by
        assert all(r["touches"] == "" for r in rows(tmp_path) if r["bucket"] == "named")


def test_a_variant_of_a_page_is_a_row_and_other_pages_are_none(tmp_path):
    (tmp_path / "visits.csv").write_text(
        VISITS
        + "a,2026-04-01T09:00:00Z,p,https://f.test/boats?utm_campaign=A,\nb,2026-04-02T09:00:00Z,q,https://f.test/boats-b?utm_campaign=A,\n"
    )
    settings = '[[landing_page]]\nname = "Boats"\naddress = "https://f.test/boats"\nvariants = [{ name = "B", address = "https://f.test/boats-b" }]\n'
    assert run(tmp_path, settings, "--by", "variant").exit_code == 0
    assert {(r["bucket"], r["variant"]): r["touches"] for r in rows(tmp_path)} == {
        ("named", "Boats: B"): "1",
        ("no_value", ""): "1",
    }


def test_help_names_every_table_and_every_field():
    done = CliRunner().invoke(app, ["credit", "--help"], env={"COLUMNS": "400", "TERMINAL_WIDTH": "400"})
    for name in (*FIELDS, "deal_contacts", "order_lines", "invoices", "ads", "xlsx"):
        assert name in done.output, name


@pytest.mark.parametrize("place", ["file.txt", "file.txt/deeper", "/proc/nothing"])
def test_a_place_where_nothing_can_be_written_is_a_sentence(tmp_path, place):
    (tmp_path / "visits.csv").write_text(VISITS + "a,2026-04-09T09:00:00Z,p,/,\n")
    (tmp_path / "file.txt").write_text("x")
    out = place if place.startswith("/") else str(tmp_path / place)
    done = CliRunner().invoke(app, ["credit", str(tmp_path), "--out", out])
    assert done.exit_code == 2
    assert "name" in done.stderr
    assert "for the results" in done.stderr
    assert "Traceback" not in done.output


def test_tables_are_known_by_their_columns_and_several_files_are_one_load(tmp_path):
    (tmp_path / "january.csv").write_text(VISITS + "a,2026-01-09T09:00:00Z,p,/?utm_campaign=A,\n")
    (tmp_path / "february.csv").write_text(
        VISITS + "a,2026-01-09T09:00:00Z,p,/?utm_campaign=A,\nb,2026-02-09T09:00:00Z,q,/?utm_campaign=A,\n"
    )
    (tmp_path / "money out.csv").write_text("day,platform,campaign,cost\n2026-01-09,Q,A,10.00\n")
    (tmp_path / "notes.txt").write_text("call Maren")
    (tmp_path / "strange.csv").write_text("Tag;Kampagne;Ausgaben\n09.01.2026;A;5,00\n")
    done = run(tmp_path)
    assert done.exit_code == 0, done.output
    (row,) = [r for r in rows(tmp_path) if r["bucket"] == "named"]
    assert (row["touches"], row["spend"]) == ("2", "10.00")
    summary = json.loads((tmp_path / "out" / "summary.json").read_text())
    assert set(summary["unread"]) == {"notes.txt", "strange.csv"}
    assert "`yardstick read` writes the source" in summary["unread"]["strange.csv"]
    assert "notes.txt: files ending in .txt are not read" in done.stderr


def test_one_wrong_key_in_five_hundred_campaigns_is_said_once_with_its_number():
    """It was told five hundred times, in 29,000 characters."""
    many = "".join(f'[[campaign]]\nname = "Crossing {i}"\ncolour = "x"\n' for i in range(500))
    with pytest.raises(SettingsError) as wrong:
        read_settings(many.encode())
    said = "settings.toml: campaign.1.colour: unknown setting: check its spelling (and in 499 more of campaign)"
    assert str(wrong.value) == said
    # Others are told beside it, each once; of very many kinds the first.
    with pytest.raises(SettingsError) as wrong:
        read_settings(many.encode() + b'[[campaign]]\nname = "Last"\nbudget = "abc"\n')
    assert "campaign.501.budget: " in str(wrong.value)
    names = "".join(f"colour_{i} = 1\n" for i in range(60))
    with pytest.raises(SettingsError, match=r"colour_19: unknown setting: check its spelling; and 40 more$"):
        read_settings(names.encode())
