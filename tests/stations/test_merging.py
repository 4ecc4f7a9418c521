"""Two edits of one list: fields that one alone changed are taken, nothing is lost, and what both changed is said."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from yardstick.stations.plan.merge_edits import SameField, merged

SEEN = [{"name": "Boat", "owner": "Maren", "budget": "10"}, {"name": "Card", "owner": "Tove"}, {"name": "Deck"}]


def with_(at: int, **fields: object) -> list[dict]:
    out = [dict(record) for record in SEEN]
    out[at] = {k: v for k, v in (out[at] | fields).items() if v is not None}
    return out


def test_different_fields_of_one_record_both_stand():
    both = merged(SEEN, with_(0, owner="Bo"), with_(0, budget="20"))
    assert both == [{"name": "Boat", "owner": "Bo", "budget": "20"}, *SEEN[1:]]
    # One emptied, one filled; the same change twice is one.
    assert merged(SEEN, with_(0, budget=None), with_(0, owner="Bo"))[0] == {"name": "Boat", "owner": "Bo"}
    assert merged(SEEN, with_(1, owner="Bo"), with_(1, owner="Bo")) == with_(1, owner="Bo")


def test_the_same_field_is_said_with_its_record():
    with pytest.raises(SameField, match=r"^owner of Boat was changed$"):
        merged(SEEN, with_(0, owner="Bo"), with_(0, owner="Idris"))
    with pytest.raises(SameField, match=r"^owner of Boat was changed$"):
        merged(SEEN, with_(0, owner=None), with_(0, owner="Idris"))


def test_a_record_that_another_took_the_place_of_gets_nothing_of_it():
    """Deck was removed and Pier added: Pier stands where Deck stood, and Deck's new owner is none of its."""
    replaced = [*SEEN[:2], {"name": "Pier"}]
    for mine, theirs in ((with_(2, owner="Bo"), replaced), (replaced, with_(2, owner="Bo"))):
        with pytest.raises(SameField, match=r"^Deck was changed$"):
            merged(SEEN, mine, theirs)
    # Records without a name are told by nothing else; one that a single window changed is as it wants it.
    unnamed = [{"field": "medium", "words": ["cpc"]}]
    one, other = [{"field": "medium", "words": ["ppc"]}], [{"field": "source", "words": ["cpc"]}]
    with pytest.raises(SameField, match=r"^a record was changed$"):
        merged(unnamed, one, other)
    assert merged(unnamed, one, unnamed) == merged(unnamed, unnamed, one) == one


def test_records_that_both_added_stand_once_each():
    more = [{"name": "Pier"}, {"name": "Kelp"}]
    assert merged(SEEN, [*SEEN, more[0]], [*SEEN, more[1]]) == [*SEEN, more[1], more[0]]
    assert merged(SEEN, [*SEEN, more[0]], [*SEEN, more[0]]) == [*SEEN, more[0]]


@pytest.mark.parametrize("moved", [SEEN[1:], [SEEN[1], SEEN[0], SEEN[2]], [*SEEN[1:], {"name": "Pier"}]])
def test_records_that_were_moved_or_removed_are_not_guessed_at(moved):
    for mine, theirs in ((moved, with_(0, owner="Bo")), (with_(0, owner="Bo"), moved)):
        with pytest.raises(SameField, match="removed"):
            merged(SEEN, mine, theirs)


fields = st.dictionaries(st.sampled_from("abc"), st.sampled_from("xyz"))
lists = st.lists(fields, min_size=3, max_size=3).map(lambda found: [{"name": f"n{i}"} | f for i, f in enumerate(found)])


@given(lists, lists, lists)
def test_every_field_is_that_of_whoever_changed_it(seen, mine, theirs):
    try:
        out = merged(seen, mine, theirs)
    except SameField:
        assert any(
            a.get(f) != s.get(f) != b.get(f) and a.get(f) != b.get(f)
            for s, a, b in zip(seen, mine, theirs, strict=True)
            for f in "abc"
        )
        return
    for s, a, b, o in zip(seen, mine, theirs, out, strict=True):
        for f in "abc":
            assert o.get(f) == (a.get(f) if a.get(f) != s.get(f) else b.get(f))
