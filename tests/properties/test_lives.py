"""What becomes of a record: one life in whatever order it is told; a deal joins nobody."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from properties.test_against_plain_reading import core_credits
from worlds import choices, into_core, worlds
from yardstick.core.report.weigh import weigh


@given(worlds(), choices(), st.data())
def test_statuses_of_different_times_give_one_life_in_any_order_however_often_told(world, both, data):
    _, plan = both
    told = {(row["record_id"].strip(), row["occurred_at"]): row for row in world["statuses"]}
    world["statuses"] = list(told.values())
    again = data.draw(st.lists(st.sampled_from(world["statuses"]), max_size=4) if told else st.just([]))
    shuffled = world | {"statuses": data.draw(st.permutations([*world["statuses"], *again]))}
    one, two = (weigh(into_core(w), plan) for w in (world, shuffled))
    assert one.rows == two.rows
    assert core_credits(one) == core_credits(two)
    assert one.without_event() == two.without_event()


@given(worlds(), choices())
def test_the_people_of_a_deal_stay_different_people_for_every_other_conversion(world, both):
    _, plan = both
    # A goal that counts once a touch looks at the trail of the deal itself.
    goals = tuple(g for g in plan.goals if g.count != "one_per_touch")
    yardsticks = tuple(y for y in plan.crediting.yardsticks if y.rule != "removal")
    plan = plan.having(goals=goals, yardsticks=yardsticks)
    with_, without = (weigh(into_core(w), plan) for w in (world, world | {"deal_contacts": []}))
    for side in ("touches", "conversions"):
        persons = [getattr(result.prepared, side).person.tolist() for result in (with_, without)]
        assert persons[0] == persons[1]
    deals = {row["deal_id"].strip() for row in world["deal_contacts"]}

    def others(result):
        return {key: line for key, line in core_credits(result).items() if key[2] not in deals}

    assert others(with_) == others(without)
