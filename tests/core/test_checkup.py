"""The check-up of addresses: planted faults found with the right mended address, hardly a clean one accused."""

from __future__ import annotations

import pytest

from planted import FAULTS, FRESH, TUNED, checker, clean_addresses, planted_faults
from yardstick.core.links.checkup import Checker
from yardstick.core.links.faults import CODES
from yardstick.core.plan.campaign_records import Campaign
from yardstick.core.plan.linking_phase import Store
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Naming

BY_NAMES = {"naming_pattern", "value_spelling"}
"""Codes of rules for names, planted in a test of their own."""
ASKED = {"perhaps_meant", "another_name"}
"""Codes that ask, and say nothing is wrong: their cases stand in `test_mark_says_what_is_so`."""
SEEDS = pytest.mark.parametrize("seed", [TUNED, FRESH])


def test_every_code_is_planted():
    assert len(FAULTS) >= 45
    planted = {code for p in planted_faults(len(FAULTS)) for code in p.codes}
    assert planted | BY_NAMES | ASKED == set(CODES)


@SEEDS
def test_planted_faults_are_found_with_the_right_mended_address(seed):
    check = checker(seed).check
    planted = planted_faults(500, seed)
    missed, wrong = [], []
    for p in planted:
        found = check(p.url)
        if not p.codes & {f.code for f in found.findings}:
            missed.append((p.kind, p.url, [f.code for f in found.findings]))
        elif found.mended != p.mended:
            wrong.append((p.kind, p.url, found.mended))
    assert not wrong, wrong[:5]
    assert len(missed) <= 0.02 * len(planted), missed


@SEEDS
def test_a_mended_address_has_nothing_left_that_could_be_mended(seed):
    check = checker(seed).check
    for p in planted_faults(500, seed):
        assert check(p.mended).mended == p.mended


@SEEDS
def test_hardly_a_clean_address_is_accused(seed):
    check = checker(seed).check
    accused = [(url, check(url).findings) for url in clean_addresses(500, seed) if check(url).findings]
    assert len(accused) <= 5, accused
    assert [url for url in clean_addresses(500, seed) if check(url).mended != url] == []


@SEEDS
def test_the_fast_way_and_the_thorough_way_say_the_same(seed):
    fast, thorough = checker(seed), checker(seed)
    addresses = [*clean_addresses(200, seed), *(p.url for p in planted_faults(250, seed))]
    # An app's address has no fast way.
    addresses = [u for u in addresses if u.startswith(("http", "/"))]
    assert [fast.check(u) for u in addresses] == [thorough._thoroughly(u) for u in addresses]


def test_names_are_held_against_pattern_and_spelling():
    rules = plan_of(
        namings=(Naming("content", "_", ("audience", "age"), (("families", "couples"), ())),),
        value_case="lower",
        value_spaces="none",
    )
    check = Checker(rules).check
    base = "https://x.example/?utm_source=a&utm_medium=cpc&utm_campaign=c&utm_content="
    assert check(base + "families_30").findings == ()
    found = check(base + "Families%2030")
    assert {f.code for f in found.findings} == {"naming_pattern", "value_spelling"}
    assert found.mended == base + "families-30"
    assert "couples" in check(base + "seniors_60").findings[0].message


def test_findings_stand_worst_first_and_say_why():
    found = checker().check("https://www.lunnick.example/boats?UTM_MEDIUM=cpc&utm_campaign=quixquix")
    assert [f.level for f in found.findings] == ["error", "warning", "warning"]
    assert "untagged" not in found.findings[0].message
    assert "site or sender" in found.findings[0].message


@pytest.mark.parametrize(
    "url", ["", "   ", "mailto:a@b.example", "javascript:alert(1)", "https://", "http://[::1", "\x00", "https://a b/"]
)
def test_what_is_no_address_is_said_and_left_alone(url):
    found = checker().check(url)
    assert [f.code for f in found.findings] == ["not_an_address"]
    assert found.mended == url


OWN = Checker(plan_of(own_hosts=("öndrel.example",), stores=(Store("", "", "any", scheme="lunnickapp"),)))
TAGS = "utm_source=ostrel&utm_medium=cpc&utm_campaign=boats"


@pytest.mark.parametrize("host", ["öndrel.example", "xn--ndrel-iua.example", "www.XN--NDREL-IUA.example"])
def test_an_own_host_in_either_writing_is_own(host):
    assert {f.code for f in OWN.check(f"https://{host}/b?{TAGS}").findings} <= {"international_host"}
    found = OWN.check(f"https://öndrel.example/b?utm_source={host}&utm_medium=cpc&utm_campaign=boats")
    assert "own_as_outside" in {f.code for f in found.findings}


def test_an_address_of_an_app_of_the_plan_is_one_and_is_checked_like_any_other():
    assert OWN.check(f"lunnickapp://boats/7?{TAGS}").findings == ()
    found = OWN.check(f"lunnickapp:boats?{TAGS.replace('utm_source', 'utm_sorce')}")
    assert ([f.code for f in found.findings], found.mended) == (["misspelt_name"], f"lunnickapp:boats?{TAGS}")
    assert [f.code for f in OWN.check(f"otherapp://boats?{TAGS}").findings] == ["not_an_address"]


def test_what_is_said_of_half_a_value_is_not_said():
    """The value goes on behind the &: its first half is no name that anybody mistyped."""
    plan = plan_of(campaigns=(Campaign("Potts & Pans"), Campaign("Pot")))
    found = Checker(plan).check("https://x.example/?utm_source=a&utm_medium=cpc&utm_campaign=Pots & Pans")
    assert {f.code for f in found.findings} == {"split_value", "raw_character"}
    assert found.mended == "https://x.example/?utm_source=a&utm_medium=cpc&utm_campaign=Pots%20&%20Pans"


def test_a_flag_of_the_site_is_no_part_of_a_value():
    assert Checker().check(f"https://x.example/?print&{TAGS}").findings == ()


def test_two_slots_of_one_tag_both_stay():
    url = f"https://x.example/?{TAGS}&utm_term={{a}}&utm_term={{b}}"
    assert Checker().check(url).mended == url
