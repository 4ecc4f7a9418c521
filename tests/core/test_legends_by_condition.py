"""Legends by condition and with fixed texts, and own parameters that count as tags (R1, R3), through the command line."""

from __future__ import annotations

import pytest

from command import credit
from core.test_hard_cases import visit

KILN = """
extra_values = ["size"]
[[legend]]
source = "kiln"
from = "2026-04-01"
term = "campaign"
campaign = "group"
[[legend]]
when = [{ field = "Parameter:size", op = "Is There" }]
fixed = { source = "ostrel" }
content = "item"
[[legend]]
source = "KILN"
from = "2026-04-05"
content = "campaign"
"""
OF_KILN = "utm_source=kiln&utm_campaign=C&utm_term=T&utm_content=K"


def read(folder, query, at, settings=KILN, **more):
    """Which value each role of one visit has."""
    world = {"visits": [visit(1, query, f"{at}T10:00:00Z", **more)]}
    out = {}
    for by in ("source", "campaign", "group", "keyword", "ad", "item"):
        rows = credit(folder / by, world, settings, "--by", by).rows
        out[by] = next((r[by] for r in rows if r["bucket"] == "named"), "")
    return out


@pytest.mark.parametrize(
    ("query", "at", "wanted"),
    [
        (OF_KILN, "2026-03-31", {"source": "kiln", "campaign": "C", "keyword": "T", "ad": "K"}),
        (OF_KILN, "2026-04-01", {"source": "kiln", "campaign": "T", "group": "C", "ad": "K"}),
        (OF_KILN + "&size=", "2026-04-06", {"source": "kiln", "campaign": "K", "keyword": "T"}),
        ("utm_source=moth&utm_content=K&SIZE=x", "2026-04-06", {"source": "ostrel", "item": "K"}),
        ("utm_source=moth&utm_content=K", "2026-04-06", {"source": "moth", "ad": "K"}),
    ],
    ids=[
        "before the first",
        "by the first",
        "by its later version, at the first one's place",
        "by a parameter",
        "by none",
    ],
)
def test_the_first_legend_that_fits_and_has_begun_reads_an_arrival(tmp_path, query, at, wanted):
    """The worked case of R3."""
    assert {role: value for role, value in read(tmp_path, query, at).items() if value} == wanted


def test_a_tag_is_there_where_its_name_stands_even_empty_however_the_operator_is_written(tmp_path):
    legend = '[[legend]]\nwhen = [{ field = "medium", op = "IS there" }]\nfixed = { group = "G" }\n'
    assert read(tmp_path / "a", "utm_medium=", "2026-04-01", legend)["group"] == "G"
    assert read(tmp_path / "b", "utm_source=x", "2026-04-01", legend)["group"] == ""


def test_a_captured_set_keeps_the_field_whose_role_a_parameter_would_fill_unless_the_legend_names_it(tmp_path):
    lead = {"lead_id": "l1", "occurred_at": "2026-04-02T10:00:00Z", "first_source": "zeta", "first_campaign": "Cap"}
    world = {"visits": [visit(1, "")], "leads": [lead | {"visitor_id": "q"}]}

    def found(by, legend):
        rows = credit(
            tmp_path / by, world, f'extra_values = ["size"]\n[[legend]]\nsource = "zeta"\n{legend}', "--by", by
        )
        return [r[by] for r in rows.rows if (r["yardstick"], r["bucket"]) == ("linear", "named")]

    both = 'size = "campaign"\ncampaign = "group"\n'
    assert (found("group", both), found("campaign", both)) == (["Cap"], [])
    assert found("campaign", 'size = "campaign"\n') == ["Cap"]


def test_conditions_look_at_referrer_and_click_mark_as_the_channel_rules_do(tmp_path):
    settings = """click_marks = ["ckid"]
own_hosts = ["lunnick.example"]
[[legend]]
when = [{ field = "referrer_host", op = "is not empty" }, { field = "click_mark", op = "is", value = true }]
fixed = { campaign = "From outside" }
"""
    for number, (referrer, query, wanted) in enumerate(
        [
            ("https://news.example/a", "ckid=k1", "From outside"),
            ("https://news.example/a", "ckid=0", ""),
            ("https://www.lunnick.example/a", "ckid=k1", ""),
        ]
    ):
        assert read(tmp_path / str(number), query, "2026-04-01", settings, referrer=referrer)["campaign"] == wanted


@pytest.mark.parametrize(
    ("legend", "said"),
    [
        ('when = [{ field = "colour", op = "is", value = "x" }]', "unknown field 'colour'"),
        ('when = [{ field = "source", op = "near", value = "x" }]', "unknown operator 'near'"),
        ('when = [{ field = "day", op = "between", value = ["x"] }]', "unknown field 'day'"),
        ('when = [{ field = "source", op = "between", value = ["x"] }]', "needs two values"),
        ('fixed = { colour = "x" }', "unknown role 'colour'"),
        ('term = "group"\nfixed = { group = "x" }', "both the group"),
        ("fixed = { group = 7 }", "group"),
    ],
)
def test_a_legend_that_cannot_be_applied_is_refused_with_what_is_wrong(tmp_path, legend, said):
    answer = credit(tmp_path, {"visits": [visit(1, "")]}, f"[[legend]]\n{legend}\n")
    assert answer.code == 2
    assert said in answer.said


def test_two_legends_with_equal_conditions_in_another_order_are_versions_of_one(tmp_path):
    one = '{ field = "source", op = "in list", value = ["a", "B"] }'
    two = '{ field = "medium", op = "is", value = "cpc" }'
    turned = one.replace('"a", "B"', '"b", "a"')
    settings = (
        f'[[legend]]\nwhen = [{one}, {two}]\nterm = "group"\n[[legend]]\nwhen = [{two}, {turned}]\nterm = "item"\n'
    )
    answer = credit(tmp_path, {"visits": [visit(1, "")]}, settings)
    assert (answer.code, "begin on one day" in answer.said) == (2, True)
    later = settings.replace('term = "item"', 'from = "2026-04-02"\nterm = "item"')
    query = "utm_source=b&utm_medium=cpc&utm_term=T"
    assert read(tmp_path, query, "2026-04-01", later)["group"] == "T"
    assert read(tmp_path, query, "2026-04-02", later)["item"] == "T"


def test_an_own_parameter_that_counts_as_a_tag_begins_touches_and_is_no_field(tmp_path):
    """The worked case of R1: three touches, of which the last two are tagged; an extra value is never the field."""
    visits = [
        visit(1, "source=house", "2026-04-01T10:00:00Z"),
        visit(2, "ad=7", "2026-04-01T10:10:00Z"),
        visit(3, "ad=8", "2026-04-01T10:20:00Z"),
    ]
    settings = 'extra_values = ["source", "ad"]\ntag_parameters = ["ad"]\n'

    def touches(by):
        rows = credit(tmp_path / by.replace(":", ""), {"visits": visits}, settings, "--by", by).rows
        return {(r["bucket"], r[by]): r["touches"] for r in rows if r["yardstick"] == "linear"}

    assert touches("channel") == {("named", "Direct"): "1", ("named", "Tagged, no rule"): "2"}
    assert touches("extra:source") == {("named", "house"): "1", ("no_value", ""): "2"}
    assert touches("source") == {("untagged", ""): "1", ("no_value", ""): "2"}
    plain = credit(tmp_path / "plain", {"visits": visits}, settings.splitlines()[0]).rows
    assert {r["touches"] for r in plain if r["yardstick"] == "linear"} == {"1"}


def test_tags_that_are_wanted_are_those_the_workspace_requires(tmp_path):
    from typer.testing import CliRunner

    from yardstick.cli import app

    settings = tmp_path / "settings.toml"
    settings.write_text('required_tags = ["source", "ad"]\ntag_parameters = ["ad"]\n')

    def said(url):
        words = ["tags", "check", url, "--settings", str(settings)]
        return CliRunner().invoke(app, words).output

    assert "missing_required" not in said("https://lunnick.example/?utm_source=a&ad=7")
    assert "ad is missing" in said("https://lunnick.example/?utm_source=a&utm_medium=b&utm_campaign=c")
    settings.write_text('required_tags = ["colour"]\n')
    assert "unknown tag" in said("https://lunnick.example/")
