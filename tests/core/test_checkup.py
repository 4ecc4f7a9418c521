"""The check-up of addresses: every planted fault found with the right mended address, hardly a clean one accused."""

from __future__ import annotations

import pytest

from planted import FAULTS, checker, clean_addresses, planted_faults
from yardstick.core.links.checkup import CODES, Checker
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.records import Naming

BY_NAMES = {"naming_pattern", "value_spelling"}
"""Codes of rules for names, planted in a test of their own."""


def test_every_code_is_planted():
    assert set(FAULTS) | BY_NAMES == set(CODES)


@pytest.mark.parametrize("code", FAULTS)
def test_every_planted_fault_is_found_with_the_right_mended_address(code):
    check = checker().check
    planted = [p for p in planted_faults() if p.code == code]
    assert len(planted) == 20
    for p in planted:
        found = check(p.url)
        assert p.code in {f.code for f in found.findings}, p.url
        assert found.mended == p.mended, p.url


def test_a_mended_address_has_nothing_left_that_could_be_mended():
    check = checker().check
    for p in planted_faults():
        assert check(p.mended).mended == p.mended


def test_hardly_a_clean_address_is_accused():
    check = checker().check
    accused = [url for url in clean_addresses(500) if check(url).findings]
    assert len(accused) <= 10, accused


def test_the_fast_way_and_the_thorough_way_say_the_same():
    fast, thorough = checker(), checker()
    addresses = [*clean_addresses(200), *(p.url for p in planted_faults(250))]
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
    found = checker().check("https://www.lunnick.example/boats?UTM_SOURCE=quorrin&utm_medium=cpc")
    assert [f.level for f in found.findings] == ["error", "warning"]
    assert "untagged" in found.findings[0].message


@pytest.mark.parametrize(
    "url", ["", "   ", "mailto:a@b.example", "javascript:alert(1)", "https://", "http://[::1", "\x00", "https://a b/"]
)
def test_what_is_no_address_is_said_and_left_alone(url):
    found = checker().check(url)
    assert [f.code for f in found.findings] == ["not_an_address"]
    assert found.mended == url
