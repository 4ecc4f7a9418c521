"""The second worked week by command: a deal of two people, an order of two products paid back in part, a test by a rule."""

from __future__ import annotations

import csv
import json

import pytest

from command import run
from week import DEMO, later_files, week_files, week_two_files
from week_by_hand import WEEK_ONE, WEEK_TWO, assert_cells


def weighed(folder, settings, *words, later=True):
    """Both weeks through the command; gives what reads a table of its results."""
    for part, files in enumerate((week_files(), week_two_files(), later_files() if later else [])):
        for name, content in files:
            if name != "settings.toml":
                folder.mkdir(parents=True, exist_ok=True)
                (folder / f"{name.removesuffix('.csv')}-{part}.csv").write_bytes(content)
    done = run("credit", folder, "--out", folder / "out", "--settings", settings, *words)
    assert done.returncode == 0, done.stderr

    def read(name):
        with (folder / "out" / name).open(newline="", encoding="utf-8") as file:
            return list(csv.DictReader(file))

    return read


SETTINGS = DEMO / "worked_week_two" / "settings.toml"


@pytest.fixture(scope="module")
def results(tmp_path_factory):
    folder = tmp_path_factory.mktemp("weeks")
    return folder, weighed(folder, SETTINGS)


def test_every_cell_of_the_second_week_is_as_worked_out_by_hand(results):
    folder, read = results
    assert_cells(read("result.csv"), WEEK_TWO)
    totals = json.loads((folder / "out" / "summary.json").read_text())["totals"]
    leads, good, sales, value = WEEK_TWO.booked
    assert totals["booked"] == {"leads": leads, "good_leads": good, "conversions": sales, "value": value}
    assert (totals["quarantined_value"], totals["invoiced"], totals["unmatched"]) == ("555.00", "88.60", "0.00")


def test_the_first_week_is_what_it_was_for_all_that_came_after(tmp_path):
    """The rows of the second are there, and its settings: only the days are the first's."""
    text = SETTINGS.read_text().replace(WEEK_TWO.first, WEEK_ONE.first).replace(WEEK_TWO.last, WEEK_ONE.last)
    (tmp_path / "settings.toml").write_text(text)
    assert_cells(weighed(tmp_path / "in", tmp_path / "settings.toml")("result.csv"), WEEK_ONE)


def test_before_the_deal_was_signed_it_counted_for_nothing(tmp_path):
    read = weighed(tmp_path, SETTINGS, later=False)
    linear = {r["campaign"] or r["bucket"]: r["value"] for r in read("result.csv") if r["yardstick"] == "linear"}
    assert linear == {
        "Spring Whale Boats": "50.00",
        "Midnight Boat": "50.00",
        "Freight Fridays": "0.00",
        "Two-Island Year Card": "0.00",
        "untagged": "40.00",
        "no_trail": "15.00",
    }


def test_the_deal_stands_on_the_day_it_was_signed_where_that_is_asked(tmp_path):
    text = SETTINGS.read_text().replace(WEEK_TWO.first, "2026-03-16").replace(WEEK_TWO.last, "2026-03-22")
    (tmp_path / "settings.toml").write_text('date_basis = "event:signed"\n' + text)
    read = weighed(tmp_path / "in", tmp_path / "settings.toml")
    linear = {r["campaign"] or r["bucket"]: r["value"] for r in read("result.csv") if r["yardstick"] == "linear"}
    assert {name: value for name, value in linear.items() if value not in ("", "0.00")} == {
        "Freight Fridays": "450.00",
        "Two-Island Year Card": "225.00",
        "no_value": "225.00",
    }


def test_an_order_of_two_products_is_shared_by_its_lines(tmp_path):
    rows = weighed(tmp_path, SETTINGS, "--by", "product")("result.csv")
    linear = {r["product"]: r["value"] for r in rows if (r["yardstick"], r["bucket"]) == ("linear", "named")}
    # 80.00 by 77 : 33; the deal's product is its own, the night boat's 40.00 are of nobody's campaign but of a product.
    assert linear == {"Whale boat": "56.00", "Bike space": "24.00", "Freight": "900.00", "Night boat": "40.00"}
