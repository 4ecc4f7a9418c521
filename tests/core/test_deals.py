"""People of one deal (R10, R16): their touches form its trail, and they stay different people otherwise."""

from __future__ import annotations

from command import credit
from core.test_hard_cases import sale, tags, visit

A, B, C = (tags("zeta", "cpc", name) for name in "ABC")


def mailed(row, email):
    return row | {"email": email}


WORLD = {
    "visits": [
        visit(1, A, "2026-04-01T10:00:00Z", "owner"),
        mailed(visit(2, B, "2026-04-02T10:00:00Z", "second"), "Bo@lunnick.example"),
        visit(3, C, "2026-04-03T10:00:00Z", "third"),
        visit(4, B, "2026-03-01T10:00:00Z", "second"),
    ],
    "leads": [{"lead_id": "L3", "occurred_at": "2026-04-03T11:00:00Z", "visitor_id": "third"}],
    "conversions": [
        sale(1, "90.00", "2026-04-05T10:00:00Z", "owner"),
        sale(2, "7.00", "2026-04-06T10:00:00Z", "second"),
    ],
    "deal_contacts": [
        {"deal_id": " c1 ", "lead_id": "", "email": "bo@LUNNICK.example", "role": "buyer"},
        {"deal_id": "c1", "lead_id": "L3", "email": "", "role": "boss"},
        {"deal_id": "c1", "lead_id": "nobody", "email": "nobody@lunnick.example", "role": ""},
        {"deal_id": "c9", "lead_id": "L3", "email": "", "role": ""},
    ],
}


def test_the_touches_of_all_contacts_form_the_trail_in_order_of_time(tmp_path):
    answer = credit(tmp_path, WORLD)
    trail = [
        (r["visit_id"], r["value"]) for r in answer.credits if (r["yardstick"], r["conversion_id"]) == ("linear", "c1")
    ]
    assert trail == [("v1", "30.00"), ("v2", "30.00"), ("v3", "30.00")]
    # Otherwise they are different people: the second one's own order has the second one's touches alone.
    own = [r["visit_id"] for r in answer.credits if (r["yardstick"], r["conversion_id"]) == ("linear", "c2")]
    assert own == ["v2"]
    assert answer.row("last", "C")["value"] == "90.00"


def test_without_contacts_each_has_their_own(tmp_path):
    answer = credit(tmp_path, WORLD | {"deal_contacts": []})
    assert [r["visit_id"] for r in answer.credits if (r["yardstick"], r["conversion_id"]) == ("linear", "c1")] == ["v1"]


def test_a_lead_that_is_a_test_record_is_nobodys_contact(tmp_path):
    world = WORLD | {"leads": [WORLD["leads"][0] | {"is_test": "true"}]}
    trail = [
        r["visit_id"]
        for r in credit(tmp_path, world).credits
        if (r["yardstick"], r["conversion_id"]) == ("linear", "c1")
    ]
    assert trail == ["v1", "v2"]


def test_contacts_of_a_counted_deal_give_no_losing_path(tmp_path):
    """C's only touch is a contact's: with the deal it is on a converting path, and nobody is lost."""
    removal = '[[yardstick]]\nname = "removal"\nrule = "removal"\n'
    world = WORLD | {"conversions": WORLD["conversions"][:1]}
    whole = credit(tmp_path / "a", world, removal)
    # One path A > B > C converts: each effect is 1, so each has a third.
    assert [whole.row("removal", c)["value"] for c in "ABC"] == ["30.00", "30.00", "30.00"]
    cut = credit(tmp_path / "b", world | {"deal_contacts": []}, removal)
    assert [cut.row("removal", c)["value"] for c in "ABC"] == ["90.00", "0.00", "0.00"]


def test_a_contact_without_a_name_is_rejected_and_a_file_is_told_by_its_columns(tmp_path):
    world = WORLD | {
        "deal_contacts": [*WORLD["deal_contacts"], {"deal_id": "c1", "lead_id": " ", "email": "", "role": "x"}]
    }
    (found,) = credit(tmp_path, world).rejected
    assert (found["file"], found["line"], found["column"]) == ("deal_contacts.csv", "6", "deal_id")
    assert "lead_id or email" in found["reason"]
