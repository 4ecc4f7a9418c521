"""What a record is: test records, status words, refunds, and leads good by a later goal (R9, R10), by the command line."""

from __future__ import annotations

import pytest

from command import credit
from core.test_hard_cases import sale, tags, visit

VISITS = [visit(1, tags("zeta", "cpc", "A"))]
NET = '[[goal]]\nname = "sale"\nkind = "sale"\nvalue = "net"\n'


def status(record, at, word="", **more):
    return {"record_id": record, "occurred_at": f"2026-04-{at:02}T10:00:00Z", "status": word, **more}


def refund(number, order, amount, **more):
    at = "2026-05-01T10:00:00Z"
    return {"refund_id": f"r{number}", "conversion_id": order, "occurred_at": at, "amount": amount, **more}


def lead(number, at="2026-04-10T10:00:00Z", person="p", **more):
    return {"lead_id": f"l{number}", "occurred_at": at, "visitor_id": person, **more}


def counted(folder, settings="", **tables):
    """The linear row of campaign A, the only one."""
    answer = credit(folder, {"visits": VISITS, **tables}, settings)
    assert answer.code == 0, answer.said
    return answer, answer.row("linear", "A")


@pytest.mark.parametrize(
    ("rule", "gone"),
    [
        ('{ field = "value", op = "is", value = "0.01" }', ["c1"]),
        ('{ field = "email_host", op = "is", value = "Lunnick.example" }', ["c2", "l1"]),
        ('{ field = "email", op = "begins with", value = "TEST" }', ["c2"]),
        ('{ field = "product", op = "is empty" }', ["c1", "c2"]),
        ('{ field = "name", op = "contains", value = "test" }', ["l1"]),
        ('{ field = "conversion_id", op = "ends with", value = "2" }', ["c2"]),
        ('{ field = "form", op = "is", value = "inside" }, { field = "name", op = "is there" }', ["l1"]),
        ('{ field = "parameter:staff", op = "is there" }', ["v2"]),
    ],
)
def test_a_quarantine_rule_takes_out_what_fits_where_the_table_has_its_fields(tmp_path, rule, gone):
    tables = {
        "visits": [*VISITS, visit(2, tags("zeta", "cpc", "A") + "&Staff=", person="q")],
        "conversions": [
            sale(1, "0.010"),
            sale(2, "7.00", email="Test@lunnick.example"),
            sale(3, "5.00", product="ticket", email="x@y.example"),
        ],
        "leads": [lead(1, name="Testa Rossa", form="inside", email="m@LUNNICK.example"), lead(2)],
    }
    every = '[[goal]]\nname = "lead"\nkind = "lead"\ncount = "every"\n'
    answer = credit(tmp_path, tables, f"{every}[[quarantine]]\nwhen = [{rule}]\n")
    kept = {r["conversion_id"] for r in answer.credits}
    assert {"c1", "c2", "c3", "l1", "l2"} - kept == {name for name in gone if name != "v2"}
    assert answer.summary["totals"]["quarantined_records"] == len(gone)
    assert answer.row("linear", "A")["touches"] == ("1" if "v2" in gone else "2")


def test_a_record_is_put_back_or_taken_out_by_hand_whatever_else_says_so(tmp_path):
    orders = [sale(1, "5.00", status="test"), sale(2, "7.00"), sale(3, "9.00", status="TEST")]
    by_hand = "".join(
        f'[[record]]\ntable = "conversions"\nid = "{name}"\nstate = "{state}"\n'
        for name, state in (("c1", "counted"), ("c2", "quarantined"))
    )
    answer, row = counted(tmp_path, by_hand, conversions=orders)
    assert (row["value"], answer.summary["totals"]["quarantined_records"]) == ("5.00", 2)


def test_an_address_of_a_test_session_is_a_test_record_by_the_parameter_the_workspace_names(tmp_path):
    visits = [visit(1, tags("zeta", "cpc", "A") + "&YT-test=session-4"), visit(2, tags("zeta", "cpc", "A") + "&probe=")]
    assert credit(tmp_path / "a", {"visits": visits}).row("linear", "A")["touches"] == "1"
    named = credit(tmp_path / "b", {"visits": visits}, 'test_parameter = "Probe"\n')
    assert (named.row("linear", "A")["touches"], named.summary["totals"]["quarantined_records"]) == ("1", 1)
    assert credit(tmp_path / "c", {"visits": visits}, 'test_parameter = ""\n').row("linear", "A")["touches"] == "1"


def test_the_latest_word_decides_and_of_two_from_one_instant_the_later_row(tmp_path):
    """The worked case: an order without a word of its own; won on day 6, lost on day 5, then lost on day 6."""
    words = '[[status]]\nword = "Lost"\nmeans = "does not count"\n[[status]]\nword = "won"\nmeans = "counts"\n'
    rows = [status("c2", 6, "won"), status("c2", 5, "lost"), status("c2", 6, "lost")]
    orders = [sale(1, "5.00"), sale(2, "7.00")]
    assert counted(tmp_path / "a", words, conversions=orders, statuses=rows)[1]["value"] == "5.00"
    won = [*rows, status("c2 ", 7, " WON ")]
    assert counted(tmp_path / "b", words, conversions=orders, statuses=won)[1]["value"] == "12.00"
    said = [sale(1, "5.00", status="lost"), sale(2, "7.00")]
    assert counted(tmp_path / "c", words, conversions=said)[1]["value"] == "7.00"
    assert counted(tmp_path / "d", words, conversions=said, statuses=[status("c1", 1, "ok")])[1]["value"] == "12.00"


def test_the_own_word_of_a_lead_stands_where_it_was_updated_and_cancelled_and_test_work_in_statuses(tmp_path):
    words = '[[status]]\nword = "lost"\nmeans = "does not count"\n'
    own = lead(1, status="lost", updated_at="2026-04-20T10:00:00Z")
    for name, at, leads in (("before", 19, "0"), ("at", 20, "1"), ("after", 21, "1")):
        row = counted(tmp_path / name, words, leads=[own], statuses=[status("l1", at, "open")])[1]
        assert row["leads"] == leads, name
    orders = [sale(1, "5.00"), sale(2, "7.00"), sale(3, "9.00")]
    answer, row = counted(
        tmp_path, conversions=orders, statuses=[status("c1", 11, "Cancelled"), status("c2", 12, "test")]
    )
    assert (row["value"], answer.summary["totals"]["quarantined_records"]) == ("9.00", 1)


def test_a_word_nobody_listed_counts_and_is_a_finding_once(tmp_path):
    orders = [sale(1, "5.00", status="open"), sale(2, "7.00", status="Open"), sale(3, "1.00", status="ok")]
    answer, row = counted(tmp_path, conversions=orders)
    assert row["value"] == "13.00"
    assert [(f["table"], f["id"], f["value"]) for f in answer.findings] == [("conversions", "c1", "open")]


def test_a_lead_that_does_not_count_lends_no_captured_sets(tmp_path):
    words = '[[status]]\nword = "lost"\nmeans = "does not count"\n'
    own = lead(1, person="x", first_campaign="Cap")
    order = sale(1, "5.00", person="y", lead_id="l1")
    tables = {"visits": VISITS, "leads": [own], "conversions": [order]}
    assert credit(tmp_path / "a", tables, words).row("linear", "Cap")["value"] == "5.00"
    lost = credit(tmp_path / "b", tables | {"statuses": [status("l1", 11, "lost")]}, words)
    assert lost.row("linear", "", bucket="no_trail")["value"] == "5.00"


def test_the_latest_value_stands_for_the_total_in_the_currency_of_the_record(tmp_path):
    """The worked case: total 100, tax 20, a status row with value 60, net: 40.00."""
    order = sale(1, "100", tax="20")
    assert (
        counted(tmp_path / "a", NET, conversions=[order], statuses=[status("c1", 11, value="60")])[1]["value"]
        == "40.00"
    )
    rows = [status("c1", 11, value="60"), status("c1", 12, "open")]
    assert counted(tmp_path / "b", NET, conversions=[order], statuses=rows)[1]["value"] == "40.00"
    worth = counted(tmp_path / "c", "", leads=[lead(1)], statuses=[status("l1", 11, value="12.50")])[1]
    assert worth["value"] == "12.50"


def test_refunds_add_to_the_cell_and_a_minus_is_read_without_its_sign(tmp_path):
    """The worked case: total 100, tax 20, refunded -10, a refund row of 30, net: 40.00 and a finding."""
    order = sale(1, "100", tax="20", refunded="-10")
    answer, row = counted(tmp_path, NET, conversions=[order], refunds=[refund(1, "c1", "30")])
    assert row["value"] == "40.00"
    assert [(f["code"], f["id"]) for f in answer.findings] == [("negative_refund", "c1")]


def test_a_refund_of_another_currency_is_rejected_and_one_of_an_unknown_order_is_a_finding(tmp_path):
    rows = [refund(1, "c1", "30", currency="JPY"), refund(2, "c9", "5"), refund(3, "c1", "2"), refund(3, "c1", "4")]
    answer, row = counted(tmp_path, conversions=[sale(1, "100")], refunds=rows)
    assert row["value"] == "96.00"  # of two rows with one id the later stands
    assert [(r["file"], r["line"], r["column"]) for r in answer.rejected] == [("refunds.csv", "2", "currency")]
    found = {(f["code"], f["id"]) for f in answer.findings}
    assert found == {("refund_of_unknown_order", "r2"), ("replaced_row", "r3")}


@pytest.mark.parametrize(
    ("sold", "good"),
    [("2026-04-19T10:00:00Z", "1"), ("2026-04-19T10:00:01Z", "0"), ("2026-04-10T09:59:59Z", "0")],
    ids=["nine days later", "a second more", "before it"],
)
def test_a_lead_is_good_by_a_later_sale(tmp_path, sold, good):
    """The worked case: a sale exactly nine days later is in time."""
    later = '[[goal]]\nname = "lead"\ngood_goal = "sale"\ngood_days = 9\n'
    visits = [*VISITS, visit(2, "", "2026-05-30T10:00:00Z", person="z")]
    orders = [sale(1, "5.00", at=sold), sale(2, "1.00", at="2026-05-30T11:00:00Z", person="z")]
    tables = {"visits": visits, "leads": [lead(1)], "conversions": orders}
    row = credit(tmp_path, tables, later).row("linear", "A")
    assert (row["leads"], row["good_leads"]) == ("1", good)


def test_a_word_makes_a_lead_good_and_a_cost_per_good_lead_follows(tmp_path):
    words = '[[status]]\nword = "quoted"\nmeans = "good"\n'
    spend = [{"day": "2026-04-01", "platform": "Quorrin", "campaign": "A", "cost": "20.00"}]
    _, row = counted(tmp_path, words, leads=[lead(1)], statuses=[status("l1", 12, "Quoted")], spend=spend)
    assert (row["good_leads"], row["cost_per_good_lead"]) == ("1", "20")


@pytest.mark.parametrize(
    ("settings", "said"),
    [
        ('[[quarantine]]\nwhen = [{ field = "colour", op = "is", value = "x" }]', "unknown field 'colour'"),
        ('[[quarantine]]\nwhen = [{ field = "email", op = "near", value = "x" }]', "unknown operator"),
        ('[[status]]\nword = "test"\nmeans = "counts"', "has its meaning already"),
        ('[[status]]\nword = "x"\nmeans = "maybe"', "means"),
        ('[[record]]\ntable = "spend"\nid = "x"\nstate = "counted"', "table"),
        ('[[goal]]\nname = "lead"\ngood_days = -1', "good_days"),
    ],
)
def test_settings_of_records_that_cannot_be_applied_are_refused(tmp_path, settings, said):
    answer = credit(tmp_path, {"visits": VISITS}, settings)
    assert (answer.code, said in answer.said) == (2, True), answer.said


def test_goodness_that_is_not_known_yet_stands_in_neither_part_of_the_good_rate():
    from decimal import Decimal

    from worlds import into_core
    from yardstick.core.plan.counting_phase import Goal
    from yardstick.core.plan.plan import plan_of
    from yardstick.core.report.weigh import weigh

    leads = [
        lead(1, "2026-04-01T11:00:00Z", "a"),
        lead(2, "2026-04-02T11:00:00Z", "b"),
        lead(3, "2026-04-09T11:00:00Z", "c"),
    ]
    visits = [
        visit(n, tags("zeta", "cpc", "A"), f"2026-04-0{n}T10:00:00Z", p) for n, p in ((1, "a"), (2, "b"), (9, "c"))
    ]
    world = {"visits": visits, "leads": leads, "conversions": [sale(1, "1.00", "2026-04-08T12:00:00Z", "b")]}
    goal = Goal("lead", "lead", "one", good_goal="sale", good_days=Decimal(7))
    (row,) = [r for r in weigh(into_core(world), plan_of(goals=(goal,))).rows if r.yardstick == "linear"]
    # The first waited seven days for nothing, the second was sold to in time, of the third it is not known.
    assert (row.sums.leads, row.sums.good_leads, row.sums.open_leads) == (3, 1, 1)
    assert row.figures.good_rate == row.sums.good_leads / 2
