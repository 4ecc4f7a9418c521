"""Typed fields are typed at every door; every list of the plan and the link sheet comes back from its files the same."""

from __future__ import annotations

import csv
import io
import json
import tomllib
from copy import deepcopy
from functools import lru_cache

import pytest
from hypothesis import HealthCheck, Phase, given, settings

from effort import much
from properties.test_plan_document import RECORDS, kept
from web.http_files import load
from web.test_short_links import put
from yardstick.formats.plan.plan_fields import fields_of
from yardstick.formats.plan.sections import SECTIONS
from yardstick.formats.results.sheets import KINDS

PLACE = {"name": "Ostrel feed ad", "longest": "1024"}


def plan(client):
    return client.get("/api/w/test/plan").json()


def keep(client, section, records):
    body = {"basis": plan(client)["basis"], "records": records}
    return client.put(f"/api/w/test/plan/sections/{section}", json=body)


def settings_of(client):
    return client.get("/api/w/test/plan/settings.toml").text


def test_a_number_typed_into_a_form_is_a_number(alone):
    """It came as text once, and broke the link sheet, Placing and every short link."""
    assert keep(alone, "place", [PLACE]).status_code == 200
    assert tomllib.loads(settings_of(alone))["place"] == [{"name": "Ostrel feed ad", "longest": 1024}]
    link = {"page": "https://www.lunnick.example/a?" + "x" * 1024, "source": "s", "medium": "m", "campaign": "c"}
    put(alone, ("k", link | {"placement": "Ostrel feed ad", "short": "n1"}))
    (row,) = alone.get("/api/w/test/mark/links").json()["rows"]
    assert "too_long" in {f["code"] for f in row["findings"]}
    assert alone.get("/api/w/test/mark/placing").status_code == 200
    assert alone.get("/~/n1", follow_redirects=False).status_code == 302


@lru_cache
def drawn(section):
    """Some lists of records of a section that the plan takes; the first is as good as any."""
    found = []

    class Enough(Exception):
        pass

    @settings(
        max_examples=30,
        database=None,
        derandomize=True,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(RECORDS[section])
    def draw(records):
        if (document := kept(section, records)) is not None and document.records(section):
            found.append(document.records(section))
            raise Enough

    with pytest.raises(Enough):
        draw()
    return found


def examples(section, wanted=1):
    return deepcopy(drawn(section)[:wanted])


def records_of(client, section):
    return plan(client)["sections"][section]


def ingest(client, section, name, content):
    return client.post(f"/api/w/test/plan/sections/{section}/file", files={"file": (name, io.BytesIO(content))})


@pytest.mark.parametrize("section", SECTIONS)
def test_every_list_comes_back_from_its_files_the_same(client, section):
    """Written out as CSV, XLSX and TOML, taken out, taken in again: the same records, the same settings."""
    for records in examples(section):
        answer = keep(client, section, records)
        assert answer.status_code == 200, answer.text
        text, now = settings_of(client), records_of(client, section)
        stated = tomllib.loads(text)
        for kind in KINDS:
            file = client.get(f"/api/w/test/plan/sections/{section}.{kind}").content
            assert keep(client, section, []).status_code == 200
            back = ingest(client, section, f"{section}.{kind}", file)
            assert back.status_code == 200, back.text
            assert (records_of(client, section), tomllib.loads(settings_of(client))) == (now, stated), kind
        assert keep(client, section, []).status_code == 200
        load(client, [("settings.toml", text.encode())])
        assert (records_of(client, section), tomllib.loads(settings_of(client))) == (now, stated)


@pytest.mark.parametrize(("kind", "rows"), [("csv", much(130, 5_001)), ("xlsx", 20)])
def test_the_link_sheet_comes_back_from_its_files_the_same(client, kind, rows):
    """At night with more rows than may be pasted at once, too: what was written out is no more than may be taken in."""
    load(client, [("settings.toml", b'extra_values = ["size"]\n')])
    cells = {"page": "/a", "source": "=1+1", "campaign": "+x", "note": 'a "b", c', "size": "-4", "short": ""}

    def change(changes):
        for start in (0, 5_000):
            basis = client.get("/api/w/test/mark/links").json()["basis"]
            body = {"basis": basis, "changes": changes[start : start + 5_000], "what": "many"}
            answer = client.patch("/api/w/test/mark/links", json=body)
            assert answer.status_code == 200, answer.text

    change([{"key": f"k{i}", "cells": cells | {"content": f"c{i}"}} for i in range(rows)])
    before = client.get("/api/w/test/mark/links").json()["rows"]
    file = client.get(f"/api/w/test/mark/links.{kind}").content
    change([{"key": row["key"], "cells": None} for row in before])
    back = client.post("/api/w/test/mark/links/file", files={"file": (f"links.{kind}", io.BytesIO(file))})
    assert back.status_code == 200, back.text
    after = client.get("/api/w/test/mark/links").json()["rows"]
    assert [(row["cells"], row["url"]) for row in after] == [(row["cells"], row["url"]) for row in before]


MONEY, PRICE = ("999999999999.99", "1000000000000"), ("999999999.999999", "1000000000")
DAYS = ("36500", "36501")
NUMBERS = {
    ("campaign", "budget"): MONEY,
    ("campaign", "target_roas"): PRICE,
    ("campaign", "target_cost_per_lead"): PRICE,
    ("campaign", "expected_leads"): MONEY,
    ("campaign", "expected_value"): MONEY,
    ("goal", "default_value"): MONEY,
    ("goal", "fixed_value"): MONEY,
    ("goal", "click_days"): DAYS,
    ("goal", "watch_days"): DAYS,
    ("goal", "view_days"): DAYS,
    ("goal", "good_days"): ("3650", "36501"),
    ("other_cost", "cost"): MONEY,
    ("click_price", "price"): PRICE,
    ("place", "longest"): ("100000", "100001"),
    ("matter", "accepted_rows"): ("1000000000", "1000000001"),
    ("yardstick", "first"): ("1000", "1000.1"),
    ("yardstick", "middle"): ("1000", "1000.1"),
    ("yardstick", "last"): ("1000", "1000.1"),
    ("yardstick", "half_life_days"): ("1000", "1000.1"),
    ("source", "skip_top"): ("1000", "1001"),
    ("source", "expected_days"): ("366", "367"),
}
"""Every number of the plan's lists: its limit, and what is beyond it."""
BEYOND = {"number": "12 apples", "day": "2026-02-30", "choice": "no such word", "yes or no": "perhaps"}
RULES = {("yardstick", "half_life_days"): {"name": "slow", "rule": "decay"}}


def of_kind(kind):
    return [(s, f.name) for s in SECTIONS for f in fields_of(s) if f.kind == kind]


def test_every_number_of_a_list_has_its_limit():
    assert set(of_kind("number")) == set(NUMBERS)


def csv_of(record):
    out = io.StringIO()
    writer = csv.DictWriter(out, list(record))
    writer.writeheader()
    writer.writerow({k: json.dumps(v) if isinstance(v, list | dict) and isinstance(v[0], dict) else
                     "\n".join(v) if isinstance(v, list) else v for k, v in record.items()})  # fmt: skip
    return out.getvalue().encode()


def fits(client, section, record, name):
    """By HTTP and by file alike: the status, and that a refusal names the field and keeps nothing."""
    found = set()
    for answer in (lambda: keep(client, section, [record]), lambda: ingest(client, section, "a.csv", csv_of(record))):
        before = settings_of(client)
        said = answer()
        found.add(said.status_code)
        if said.status_code != 200:
            assert said.status_code == 422, said.text
            assert name.removeprefix("utm_") in said.json()["message"], said.text
            assert settings_of(client) == before
    (status,) = found
    return status == 200


@pytest.mark.parametrize(("section", "name"), NUMBERS)
def test_a_number_at_its_limit_is_kept_and_one_beyond_it_refused(client, section, name):
    record = RULES.get((section, name)) or dict(examples(section, 1)[0][0])
    for text, good in zip(NUMBERS[section, name], (True, False), strict=True):
        wanted = record | {name: text}
        if section == "goal" and name == "good_days":
            wanted |= {"good_goal": record["name"] + "!"}
        assert fits(client, section, wanted, name) is good, (text, wanted)


@pytest.mark.parametrize("kind", BEYOND)
def test_what_is_no_value_of_a_kind_is_refused_at_every_door(client, kind):
    for section, name in of_kind(kind):
        record = RULES.get((section, name)) or dict(examples(section, 1)[0][0])
        assert not fits(client, section, record | {name: BEYOND[kind]}, name), (section, name)


def test_a_text_beyond_its_limit_is_refused_at_every_door(client):
    for number, (section, name) in enumerate(of_kind("text")):
        text = ("x" * 4_001, "a\0b")[number % 2]
        record = dict(examples(section, 1)[0][0])
        said = keep(client, section, [record | {name: text}])
        assert said.status_code == 422, (section, name, said.status_code)


def test_settings_that_are_no_lists_are_typed_and_limited_too(client):
    def change(**values):
        body = {"basis": plan(client)["basis"], "values": values}
        return client.put("/api/w/test/plan/general", json=body)

    assert change(verdict_minimum="12", fold="false", margin="0.40").status_code == 200
    assert tomllib.loads(settings_of(client)) == {"verdict_minimum": 12, "fold": False, "margin": "0.40"}
    for name, value in (
        *(("short_base", text) for text in ("x" * 4_001, "a\0b")),
        *(("verdict_minimum", text) for text in ("1000001", "-1", "1.5", "many")),
        *(("own_hosts", ["x" * 4_001]), ("margin", "1000000000"), ("session_gap_minutes", "527041")),
    ):
        said = change(**{name: value})
        assert (said.status_code, name in said.json()["message"]) == (422, True), said.text
