"""The check-up of addresses: planted faults found with the right mended address, hardly a clean one accused."""

from __future__ import annotations

import pytest

from planted import FAULTS, FRESH, TUNED, checker, clean_addresses, planted_faults
from yardstick.core.links.checkup import CODES, Checker
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.records import Naming

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
    assert len(missed) <= 0.03 * len(planted), missed


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


@SEEDS
def test_the_fast_way_and_the_thorough_way_say_the_same(seed):
    fast, thorough = checker(seed), checker(seed)
    addresses = [*clean_addresses(200, seed), *(p.url for p in planted_faults(250, seed))]
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
