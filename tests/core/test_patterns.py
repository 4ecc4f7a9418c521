"""Patterns on three levels, dialects, and mail senders."""

from __future__ import annotations

import itertools
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yardstick.core.links.mail import SAMPLES, tag_mail_link
from yardstick.core.links.patterns import LANDING, PATTERN_LEVELS, fits, resolve
from yardstick.core.plan.linking_phase import Dialect, DialectSlot, OwnSlot, Pattern, Sender
from yardstick.core.reading.tags import parameters, split_address

SLOTS = (
    DialectSlot("camp", "campaign-name", (), "Midnight Boat"),
    DialectSlot("grp", "group-name", ("group",), "night all"),
    DialectSlot("kw", "keyword", (), "boat & breakfast?"),
)
DIALECT = Dialect("Quorrin", "{=", "=}", SLOTS)
BASE = {"source": "quorrin", "medium": "cpc", "campaign": "(:campaign-name:)"}
SAYS = {"fixed": "fix-{level}", "slot": "(:keyword:)-{level}", "absent": ""}


def ask(patterns, own=(), **more):
    wanted = {"platform": "quorrin", "campaign": "Night", "group": "G", "ad": "Top", "kind": ""} | more
    return resolve(**wanted, patterns=patterns, own_slots=own, dialect=DIALECT)


@pytest.mark.parametrize("said", list(itertools.product(SAYS, repeat=4)), ids="-".join)
def test_the_nearest_level_that_says_something_wins(said):
    """All 81 combinations of four levels that say a fixed value, a slot, or nothing."""
    names = {"account": "", "campaign": "night", "group": "g", "ad": "top"}
    patterns = [Pattern("Quorrin", "account", "", "", BASE)]
    patterns += [
        Pattern(
            "Quorrin",
            level,
            names[level],
            "own" if level == "account" else "",
            {"term": SAYS[what].format(level=level)},
        )
        for level, what in zip(PATTERN_LEVELS, said, strict=True)
    ]
    found = ask(patterns, kind="own")
    nearest = next((i for i in (3, 2, 1, 0) if said[i] != "absent"), None)
    term = next((p for p in found.parts if p.field == "term"), None)
    if nearest is None:
        assert term is None
        assert "utm_term" not in found.address
        return
    level = PATTERN_LEVELS[nearest]
    assert (term.level, term.text) == (level, SAYS[said[nearest]].format(level=level))
    written = f"fix-{level}" if said[nearest] == "fixed" else f"{{=kw=}}-{level}"
    assert found.address.endswith(f"&utm_term={written}")
    assert found.one_question_mark
    assert {p.field: p.level for p in found.parts if p.field != "term"} == dict.fromkeys(BASE, "account")


def test_slots_go_out_in_the_platforms_dialect_and_the_preview_is_filled():
    found = ask([Pattern("Quorrin", "account", "", "", BASE | {"term": "(:keyword:)"})])
    assert found.address == (f"{LANDING}?utm_source=quorrin&utm_medium=cpc&utm_campaign={{=camp=}}&utm_term={{=kw=}}")
    assert parameters(split_address(found.preview)[1])[3][:2] == ("utm_term", "boat & breakfast?")
    assert found.one_question_mark
    assert found.findings == ()


def test_own_slots_stand_for_what_the_nearest_level_says():
    own = [
        OwnSlot("Quorrin", "campaign", "Night", "offer", "full fare"),
        OwnSlot("Quorrin", "group", "G", "offer", "half?fare"),
    ]
    pattern = [Pattern("Quorrin", "account", "", "", BASE | {"content": "(:offer:)-(:campaign-name:)"})]
    near, far = ask(pattern, own), ask(pattern, own, group="other")
    assert [(p.field, p.text, p.level) for p in near.own] == [("offer", "half?fare", "group")]
    assert near.address.endswith("&utm_content=half%3Ffare-{=camp=}")
    assert near.one_question_mark
    assert far.address.endswith("&utm_content=full%20fare-{=camp=}")
    assert [p.level for p in far.own] == ["campaign"]


def test_what_is_meant_to_arrive_has_own_slots_expanded_and_the_platforms_open():
    own = [OwnSlot("Quorrin", "campaign", "Night", "offer", "50 % off")]
    found = ask([Pattern("Quorrin", "account", "", "", BASE | {"content": "(:offer:)/(:campaign-name:)!"})], own)
    assert found.meant[-1] == ("utm_content", "50 % off/(:campaign-name:)!")
    text = found.meant[-1][1]
    assert fits(text, "50 % off/Night & day!")
    assert not fits(text, "50 % off/!")  # nothing stands in the slot
    assert not fits(text, "50 % OFF/Night!")
    assert not fits(text, "50 % off/Night")
    assert fits("a.c", "a.c")
    assert not fits("a.c", "abc")


@given(st.text("ab", max_size=4), st.text("ab", max_size=3), st.text("ab", max_size=3), st.text("ab", max_size=9))
def test_a_text_with_slots_fits_what_an_expression_would(first, middle, last, arrived):
    """Against `re` of Python's standard library, on short texts where it cannot run away."""
    wanted = re.fullmatch(f"{first}.+{middle}.+{last}", arrived) is not None
    assert fits(f"{first}(:one:){middle}(:two:){last}", arrived) == wanted


def test_a_kind_of_campaign_has_its_variant():
    patterns = [
        Pattern("Quorrin", "account", "", "", BASE),
        Pattern("Quorrin", "account", "", "film", {"medium": "video"}),
    ]
    assert "utm_medium=video" in ask(patterns, kind="Film").address
    assert "utm_medium=cpc" in ask(patterns, kind="text").address


def test_what_will_not_work_is_said():
    found = ask(
        [Pattern("Quorrin", "account", "", "", {"source": "q", "content": "(:group-name:)", "term": "(:moon:)"})]
    )
    assert {(f.code, f.field) for f in found.findings} == {
        ("slot_level", "content"), ("unknown_slot", "term"), ("missing_required", "medium"), ("missing_required", "campaign"),
    }  # fmt: skip
    assert ask([Pattern("Ostrel", "account", "", "", BASE)]).parts == ()


@given(
    st.dictionaries(
        st.sampled_from(["source", "medium", "campaign", "term", "content"]), st.text(min_size=1).filter(str.strip)
    ),
    st.text(),
)
def test_exactly_one_question_mark_results_whatever_stands_in_a_pattern(fields, example):
    dialect = Dialect("Quorrin", "{=", "=}", (DialectSlot("kw", "keyword", (), example),))
    found = resolve(
        "Quorrin", "", "", "", [Pattern("Quorrin", "account", "", "", fields | {"id": "(:keyword:)"})], [], dialect
    )
    assert found.one_question_mark


MAIL = Sender(
    "Ellivane",
    "series",
    {"source": "ellivane", "medium": "email", "campaign": "(:series:)", "content": "(:list:)-(:message:)"},
)


def test_mails_are_tagged_but_for_links_that_have_tags():
    values = {"list": "card holders", "series": "renewal", "message": "2"}
    plain, tagged, fragment = (tag_mail_link(url, MAIL, values) for url in SAMPLES)
    tags = "utm_source=ellivane&utm_medium=email&utm_campaign=renewal&utm_content=card%20holders-2"
    assert plain == f"{SAMPLES[0]}?{tags}"
    assert tagged == SAMPLES[1]
    assert fragment == f"https://www.lunnick.example/news?{tags}#fares"


def test_a_slot_without_a_value_leaves_its_field_out_and_what_is_no_page_is_left_alone():
    assert "utm_content" not in tag_mail_link(SAMPLES[0], MAIL, {"series": "renewal"})
    for url in ("mailto:a@b.example", "{{unsubscribe}}", ""):
        assert tag_mail_link(url, MAIL, {}) == url
