"""Channels by the kind of platform, and referrers of the host a visit landed on (R5), through the command line."""

from __future__ import annotations

import pytest

from command import credit
from core.test_hard_cases import sale, tags, visit

PLATFORMS = """
[[platform]]
name = "Zeta Feed"
source = "zeta"
medium = "cpc"
kind = "social"
[[platform]]
name = "Zeta Clips"
source = "zeta"
medium = "ppc"
kind = "video"
"""


def channels(tmp_path, visits, settings=""):
    """The channel of each visit's touch, each of a person of its own."""
    rows = [v | {"visitor_id": f"p{i}", "visit_id": f"v{i}"} for i, v in enumerate(visits)]
    found = credit(tmp_path, {"visits": rows}, settings, "--by", "channel")
    return {r["channel"]: r["touches"] for r in found.rows if r["yardstick"] == "linear"}


@pytest.mark.parametrize(
    ("source", "medium", "wanted"),
    [
        ("zeta", "cpc", "Paid social"),
        ("Zeta", "PPC", "Video"),
        ("zeta", "paid", "Paid social"),
        ("kiln", "paid", "Paid, kind unknown"),
        ("kiln", "cpc", "Paid search"),
        ("zeta", "email", "Email"),
        ("zeta", "paid-search", "Paid search"),
    ],
)
def test_a_medium_that_says_paid_is_told_by_the_platform_whose_source_it_is(tmp_path, source, medium, wanted):
    """The platform with that very medium, else the first with that source."""
    assert channels(tmp_path, [visit(1, tags(source, medium, "A"))], PLATFORMS) == {wanted: "1"}


def test_the_first_platform_of_a_source_decides_though_it_says_no_kind(tmp_path):
    settings = PLATFORMS.replace('kind = "social"\n', "", 1)
    assert channels(tmp_path, [visit(1, tags("zeta", "paid", "A"))], settings) == {"Paid, kind unknown": "1"}


def test_spend_stands_where_the_touches_of_its_platform_do(tmp_path):
    spend = [{"day": "2026-04-01", "platform": "Zeta Feed", "campaign": "A", "cost": "5.00"}]
    world = {"visits": [visit(1, tags("zeta", "cpc", "A"))], "conversions": [sale(1)], "spend": spend}
    row = credit(tmp_path, world, PLATFORMS, "--by", "channel").row("linear", "Paid social", "channel")
    assert (row["value"], row["spend"]) == ("90.00", "5.00")


def test_a_referrer_on_the_host_of_the_visit_is_inside_and_a_mark_that_identifies_nobody_is_none(tmp_path):
    """No own hosts listed: www.shop.test to shop.test is no referral, `?ckid=0` no mark, `?ckid=k1` one."""
    at = "2026-04-01T10:00:00Z"
    visits = [
        {"url": "https://shop.test/", "referrer": "https://www.shop.test/x", "occurred_at": at},
        {"url": "https://shop.test/?ckid=0", "occurred_at": at},
        {"url": "https://shop.test/?ckid=k1", "occurred_at": at},
        {"url": "https://shop.test/", "referrer": "https://blog.test/x", "occurred_at": at},
        {"url": "https://shop.test/", "referrer": "https://eu.shop.test/x", "occurred_at": at},
    ]
    found = channels(tmp_path, visits, 'click_marks = ["ckid"]\n')
    assert found == {"Direct": "2", "Paid, untagged": "1", "Referral": "2"}


def test_inside_and_passed_through_hosts_beat_known_sites(tmp_path):
    settings = 'own_hosts = ["find.test"]\nsearch_sites = ["find.test", "shop.test"]\n'
    at = "2026-04-01T10:00:00Z"
    visits = [
        {"url": "https://shop.test/", "referrer": "https://find.test/?q=x", "occurred_at": at},
        {"url": "https://shop.test/", "referrer": "https://shop.test/?q=x", "occurred_at": at},
        {"url": "https://other.test/", "referrer": "https://shop.test/?q=x", "occurred_at": at},
    ]
    assert channels(tmp_path, visits, settings) == {"Direct": "2", "Organic search": "1"}


def test_an_unknown_kind_of_platform_is_named(tmp_path):
    found = credit(tmp_path, {"visits": [visit(1)]}, PLATFORMS.replace('"video"', '"radio"'))
    assert (found.code, "kind" in found.said) == (2, True)
