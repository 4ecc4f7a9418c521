"""Filters of a report, on the worked week: what they show, what they leave out, and that nothing is dropped."""

from __future__ import annotations

import csv
import json

import pytest

from command import run
from planned_week import planned_week_files
from week import FOLDER
from yardstick.core.base.errors import SettingsError
from yardstick.core.report.filters import Filter, read_filter


@pytest.mark.parametrize(
    ("text", "field", "op", "values"),
    [
        ("source is quorrin", "source", "is", ("quorrin",)),
        ("  Source   IS NOT  Quorrin ", "Source", "is not", ("Quorrin",)),
        ("campaign is one of Midnight Boat | Pier, east", "campaign", "in list", ("Midnight Boat", "Pier, east")),
        ("campaign is none of a|b|c", "campaign", "not in list", ("a", "b", "c")),
        ("day between 2026-03-01 | 2026-03-03", "day", "between", ("2026-03-01", "2026-03-03")),
        ("campaign is there", "campaign", "is there", ()),
        ("campaign is not one of a", "campaign", "not in list", ("a",)),
        ("extra:age range is not empty", "extra:age range", "is not empty", ()),
        ("landing_page contains ?x is y", "landing_page", "contains", ("?x is y",)),
        ("medium does not begin with p-", "medium", "does not begin with", ("p-",)),
        ("channel matches ^Paid (search|social)$", "channel", "matches", ("^Paid (search|social)$",)),
    ],
)
def test_a_filter_is_read_as_written(text, field, op, values):
    found = read_filter(text)
    assert found == Filter(field, op, values)
    assert read_filter(str(found)) == found


@pytest.mark.parametrize("text", ["", "source", "source quorrin", "is quorrin", "source sounds like quorrin"])
def test_what_is_no_filter_says_how_one_is_written(text):
    with pytest.raises(SettingsError, match="write FIELD OPERATOR VALUE"):
        read_filter(text)


def credit(tmp_path, *where, by="campaign", source=FOLDER, code=0):
    out = tmp_path / "out"
    words = [str(source), "--out", str(out), "--settings", str(source / "settings.toml"), "--by", by]
    for text in where:
        words += ["--where", text]
    done = run("credit", *words)
    assert done.returncode == code, done.stderr
    if code:
        return done.stderr
    rows = {(r["yardstick"], r["bucket"], r[by]): r for r in csv.DictReader((out / "result.csv").open())}
    return rows, json.loads((out / "summary.json").read_text())


def test_a_filter_shows_what_fits_and_the_rest_in_one_row(tmp_path):
    whole, before = credit(tmp_path)
    rows, summary = credit(tmp_path, "source is QUORRIN")
    linear = {k[1:]: r["value"] for k, r in rows.items() if k[0] == "linear"}
    # By hand from docs/worked-week.md: of 452.57 booked, quorrin brought the whale boats' 140.00.
    assert linear == {
        ("named", "Spring Whale Boats"): "140.00",
        ("named", "Freight Fridays"): "0.00",
        ("no_value", ""): "0.00",
        ("no_touch_spend", "Two-Bike Deck"): "0.00",
        ("left_out", ""): "312.57",
    }
    assert summary["where"] == ["source is QUORRIN"]
    assert summary["fingerprint"] != before["fingerprint"]
    assert "where" not in before
    for name in ("value", "spend", "leads", "conversions", "touches"):
        for yardstick in ("first", "last", "last_marked", "linear", "fair_share"):
            sums = [
                sum(float(r[name] or 0) for (y, *_), r in found.items() if y == yardstick) for found in (whole, rows)
            ]
            assert sums[0] == pytest.approx(sums[1]), (name, yardstick)
    kept = rows["linear", "named", "Spring Whale Boats"]
    assert kept == whole["linear", "named", "Spring Whale Boats"]


def test_several_filters_must_all_hold(tmp_path):
    rows, _ = credit(tmp_path, "medium is one of cpc | paid-social", "campaign does not contain card")
    assert {k[2] for k in rows if k[1] == "named"} == {"Spring Whale Boats", "Freight Fridays"}


def test_a_field_that_only_conversions_carry_leaves_touches_and_spend_whole(tmp_path):
    whole, _ = credit(tmp_path)
    rows, _ = credit(tmp_path, "goal is lead")
    for key in (("linear", "named", "Two-Island Year Card"), ("linear", "named", "Freight Fridays")):
        assert rows[key]["spend"] == whole[key]["spend"]
        assert rows[key]["touches"] == whole[key]["touches"]
        assert rows[key]["leads"] == whole[key]["leads"]
        assert float(rows[key]["conversions"]) == 0
    assert float(rows["linear", "left_out", ""]["conversions"]) > 0
    # Leads without a trail fit, orders without one do not.
    alone = rows["linear", "no_trail", ""]
    assert float(alone["conversions"]) == 0


def test_conversions_without_a_trail_have_no_source(tmp_path):
    whole, _ = credit(tmp_path)
    rows, _ = credit(tmp_path, "source is not nowhere")
    alone = whole["linear", "no_trail", ""]
    assert ("linear", "no_trail", "") not in rows
    assert rows["linear", "left_out", ""]["value"] == alone["value"]


def test_an_extra_value_with_a_role_is_a_filter_like_any_other(tmp_path):
    for name, content in planned_week_files():
        (tmp_path / name).write_bytes(content)
    settings = tmp_path / "settings.toml"
    legend = '\n[[legend]]\nsource = "ostrel"\nterm = "extra:audience"\nsize = "placement"\n'
    settings.write_text(f'extra_values = ["size"]\n{settings.read_text()}{legend}')
    for where, value in (
        ("extra:audience begins with families", "40.00"),
        ("placement is wide", "40.00"),
        ("extra:size is empty", "512.57"),  # all that has a trail: the legend took the size for the placement
    ):
        rows, _ = credit(tmp_path, where, source=tmp_path)
        total = sum(
            float(r["value"])
            for k, r in rows.items()
            if k[:2] in (("linear", "named"), ("linear", "untagged"), ("linear", "no_value"))
        )
        assert f"{total:.2f}" == value, where
    said = credit(tmp_path, "extra:colour is red", source=tmp_path, code=2)
    assert "no extra value 'colour'" in said


def test_a_wrong_filter_ends_with_2_before_anything_is_read(tmp_path):
    assert "unknown" in credit(tmp_path, "colour is red", code=2)
    assert "'is empty' takes no value" in credit(tmp_path, "source is empty x", code=2)
    assert "cannot be read" in credit(tmp_path, "source matches (", code=2)
