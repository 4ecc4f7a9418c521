"""Landing pages, legends that end, keys of legends, hosts in both writings: R3 and R5 (v4). Cases worked by hand."""

from __future__ import annotations

import csv

import pytest
from typer.testing import CliRunner

from yardstick.cli import app
from yardstick.core.reading.pages import page_key

HEAD = "visit_id,occurred_at,visitor_id,url,referrer\n"


def weighed(tmp_path, visits, settings, by, *extra):
    (tmp_path / "visits.csv").write_text(HEAD + "".join(f"v{i},{v}\n" for i, v in enumerate(visits)))
    (tmp_path / "settings.toml").write_text(settings)
    words = [
        "credit",
        str(tmp_path),
        "--settings",
        str(tmp_path / "settings.toml"),
        "--out",
        str(tmp_path / "out"),
        "--by",
        by,
        *extra,
    ]
    done = CliRunner().invoke(app, words)
    assert done.exit_code == 0, done.output
    rows = csv.DictReader((tmp_path / "out" / "result.csv").open())
    return {row[by]: int(row["touches"]) for row in rows if row["yardstick"] == "linear" and row["bucket"] == "named"}


def refused(tmp_path, settings):
    (tmp_path / "visits.csv").write_text(HEAD + "v,2026-04-01T10:00:00Z,p,/a,\n")
    (tmp_path / "settings.toml").write_text(settings)
    done = CliRunner().invoke(
        app, ["credit", str(tmp_path), "--settings", str(tmp_path / "settings.toml"), "--out", str(tmp_path / "out")]
    )
    assert done.exit_code == 2
    return done.stderr


@pytest.mark.parametrize(
    ("address", "page"),
    [
        ("https://Ferry.test/Isle/?a=1#x", "ferry.test/isle"),
        ("http://ferry.test:8080", "ferry.test"),
        ("/Isle/", "/isle"),
        ("/", "/"),
        ("https://ferry.test/isle/a%20b", "ferry.test/isle/a%20b"),
    ],
)
def test_a_landing_page_has_one_value(address, page):
    assert page_key(address) == page


def test_pages_are_one_row_whatever_their_writing(tmp_path):
    urls = [
        "https://Ferry.test/Isle/?a=1",
        "http://ferry.test/isle#x",
        "https://ferry.test/isle",
        "https://ferry.test/isles",
    ]
    visits = [f"2026-04-0{i + 1}T10:00:00Z,p{i},{url},https://moth.test/" for i, url in enumerate(urls)]
    assert weighed(tmp_path, visits, "", "landing_page") == {"ferry.test/isle": 3, "ferry.test/isles": 1}


PAGES = """
[[legend]]
when = [{ field = "landing_page", op = "is", value = "ferry.test/isle/*" }]
from = "2026-04-01"
until = "2026-04-05"
fixed = { source = "quorrin", campaign = "Isle" }
[[legend]]
when = [{ field = "landing_page", op = "is", value = "ferry.test/*" }]
fixed = { source = "house" }
"""


def test_a_legend_by_page_ends_and_leaves_the_day_to_the_one_after_it(tmp_path):
    visits = [
        f"2026-{at}Z,p{i},https://ferry.test{path},https://moth.test/"
        for i, (path, at) in enumerate(
            [
                ("/Isle/", "04-05T23:00:00"),
                ("/isle/north", "04-06T00:00:00"),
                ("/isles", "04-03T10:00:00"),
                ("/isle/north?x=1", "04-03T10:00:00"),
                ("/isle", "03-31T23:00:00"),
            ]
        )
    ]
    assert weighed(tmp_path, visits, PAGES, "source") == {"quorrin": 2, "house": 3}
    assert weighed(tmp_path, visits, PAGES, "campaign") == {"Isle": 2}


def test_an_ended_version_ends_its_legend(tmp_path):
    settings = """
[[legend]]
source = "ostrel"
content = "group"
[[legend]]
source = "ostrel"
from = "2026-04-02"
until = "2026-04-03"
content = "placement"
[[legend]]
content = "item"
"""
    visits = [f"2026-04-0{d}T10:00:00Z,p{d},/?utm_source=ostrel&utm_content=x{d}," for d in (1, 2, 4)]
    found = {by: weighed(tmp_path, visits, settings, by) for by in ("group", "placement", "item")}
    assert found == {"group": {"x1": 1}, "placement": {"x2": 1}, "item": {"x4": 1}}


def test_a_condition_on_the_page_does_not_hold_for_a_captured_set_unless_negated(tmp_path):
    (tmp_path / "leads.csv").write_text("lead_id,occurred_at,last_campaign\nL,2026-04-02T10:00:00Z,Cap\n")
    settings = """
[[legend]]
when = [{ field = "landing_page", op = "is not", value = "ferry.test/isle" }]
campaign = "group"
"""
    weighed(tmp_path, ["2026-04-01T10:00:00Z,p,https://ferry.test/isle,"], settings, "group")
    rows = csv.DictReader((tmp_path / "out" / "result.csv").open())
    assert [r["group"] for r in rows if r["yardstick"] == "linear" and r["bucket"] == "named"] == ["Cap"]


def test_a_parameter_fills_a_role_and_its_own_extra_value_stays(tmp_path):
    settings = """
extra_values = ["size"]
[[legend]]
"parameter:pos" = "placement"
size = "ad"
utm_team = "audience"
"""
    visits = ["2026-04-01T10:00:00Z,p,/?utm_source=a&POS=top&size=big&utm_team=north,"]
    found = {by: weighed(tmp_path, visits, settings, by) for by in ("placement", "ad", "audience")}
    assert found == {"placement": {"top": 1}, "ad": {"big": 1}, "audience": {"north": 1}}


@pytest.mark.parametrize("key", ["untill", "colour", '"parameter:"', '"extra:size"'])
def test_what_is_no_key_of_a_legend_is_refused(tmp_path, key):
    assert "is nothing that an arrival has" in refused(tmp_path, f'[[legend]]\nsource = "x"\n{key} = "group"\n')


def test_an_end_before_the_beginning_is_refused_and_an_empty_one_is_none(tmp_path):
    legend = '[[legend]]\nsource = "x"\nterm = "group"\nfrom = "2026-04-02"\nuntil = "{}"\n'
    assert "until is before from" in refused(tmp_path, legend.format("2026-04-01"))
    visits = ["2026-04-03T10:00:00Z,p,/?utm_source=x&utm_term=g,"]
    assert weighed(tmp_path, visits, legend.format(""), "group") == {"g": 1}


def test_a_tag_parameter_need_not_be_listed_twice(tmp_path):
    settings = 'tag_parameters = ["ref"]\n[[legend]]\nref = "source"\n'
    assert weighed(tmp_path, ["2026-04-03T10:00:00Z,p,/?ref=moth,"], settings, "source") == {"moth": 1}


@pytest.mark.parametrize("own", ["öndrel.example", "xn--ndrel-iua.example"])
@pytest.mark.parametrize("came", ["https://xn--ndrel-iua.example/a", "https://Öndrel.example/a"])
def test_an_own_host_in_either_writing_is_own(tmp_path, own, came):
    visits = [f"2026-04-03T10:00:00Z,p,https://moth.test/,{came}"]
    assert weighed(tmp_path, visits, f'own_hosts = ["{own}"]\n', "channel") == {"Direct": 1}
    assert weighed(tmp_path, visits, "", "channel") == {"Referral": 1}
