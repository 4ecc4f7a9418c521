"""In any world what Join says is what the board says, and what is mended is found no more (R30, R32). No outside source."""

from __future__ import annotations

from hypothesis import given

from effort import examples
from worlds import choices, into_core, worlds
from yardstick.core.base.columns import total
from yardstick.core.base.errors import SettingsError
from yardstick.core.plan.campaign_records import Rename
from yardstick.core.plan.gathering_phase import SaidOfMatter
from yardstick.core.report.weigh import weigh
from yardstick.core.settling.coverage import coverage
from yardstick.core.settling.matters import find_matters


@examples(40)
@given(worlds(), choices())
def test_spend_alone_is_what_the_board_calls_unmatched(world, both):
    plan = both[1].having(report_from=None, report_to=None, date_basis="conversion")
    result = weigh(into_core(world), plan)
    alone = [one.spend or 0 for one in find_matters(result) if one.kind.name == "spend_alone"]
    (matched,) = [one for one in coverage(result) if one.figure == "spend_matched" and not one.by]
    assert sum(alone) == matched.whole - matched.part


@examples(40)
@given(worlds(), choices())
def test_a_stake_is_what_its_rows_say_and_cut_by_the_range_alone(world, both):
    plan = both[1]
    tables = into_core(world)
    result = weigh(tables, plan)
    whole = weigh(tables, plan.having(report_from=None, report_to=None))
    found, over_all = find_matters(result), find_matters(whole)
    keys = {(one.kind.name, one.object, one.first_day) for one in found}
    # The range finds no matter and loses none.
    assert keys == {(one.kind.name, one.object, one.first_day) for one in over_all}
    assert len(keys) == len(found)
    by_key = {(one.kind.name, one.object, one.first_day): one for one in over_all}
    for one in found:
        larger = by_key[one.kind.name, one.object, one.first_day]
        assert one.rows <= larger.rows == larger.all_rows == one.all_rows
        assert (one.spend is None, one.value is None) == (larger.spend is None, larger.value is None)
    for one in over_all:
        spends = sum(total(part.spends) for part in one.parts if part.spends is not None)
        values = sum(total(part.values) for part in one.parts if part.values is not None)
        assert one.kind.name in ("levels_differ", "missing_day", "invoice_differs", "price_yields") or spends == (
            one.spend or 0
        )
        assert values == (one.value or 0)


@examples(40)
@given(worlds(), choices())
def test_what_is_the_same_as_another_is_no_more_near_it_and_comes_back_with_what_was_said(world, both):
    plan, tables = both[1], into_core(world)
    near = [one for one in find_matters(weigh(tables, plan)) if one.kind.name == "near_value"]
    # Worlds in which nothing is near another are left: to look for one that has would take a minute.
    if not near:
        return
    one = near[0]
    role, old = one.object
    said = SaidOfMatter("near_value", one.called, whose="Maren", note="asked")
    kept = plan.having(said_of_matters=(said,))
    mended = kept.having(renames=(*plan.reading.renames, Rename(role, old, one.said)))
    try:
        mended.reading.names.check()
    except SettingsError:
        return
    gone = {m.object for m in find_matters(weigh(tables, mended)) if m.kind.name == "near_value"}
    assert one.object not in gone
    again = [m for m in find_matters(weigh(tables, kept)) if m.kind.name == "near_value" and m.object == one.object]
    assert [(m.first_day, m.rows, m.whose, m.kept) for m in again] == [(one.first_day, one.rows, "Maren", said)]
