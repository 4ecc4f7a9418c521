"""By which identifiers people were joined (R6, R32). By hand, and against a plain reading of worlds; no outside source."""

from __future__ import annotations

from collections import Counter, defaultdict

from hypothesis import given

from effort import examples
from worlds import choices, into_core, worlds
from yardstick.core.base.identifiers import IDENTIFIER_KINDS
from yardstick.core.plan.plan import plan_of
from yardstick.core.report.weigh import weigh
from yardstick.core.settling.people_joined import people_joined
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.rows.input_tables import read_file, tables_of

VISITS = """visit_id,occurred_at,visitor_id,email,url
v1,2026-04-01T09:00:00Z,p,,/
v2,2026-04-02T09:00:00Z,p,a@ferry.test,/
v3,2026-04-03T09:00:00Z,q,a@ferry.test,/
v4,2026-04-04T09:00:00Z,r,,/
v5,2026-04-05T09:00:00Z,s,,/
v6,2026-04-06T09:00:00Z,s,,/
"""


def test_people_by_the_kinds_that_joined_them():
    tables = tables_of([read_file(csv_of("visits.csv", VISITS.encode()), "UTC")]).tables
    found = people_joined(weigh(tables, plan_of()))
    assert {(one.kinds, one.people, one.rows) for one in found.by_kinds} == {
        (("visitor_id", "email"), 1, 3),
        (("visitor_id",), 1, 2),
        ((), 1, 1),
    }
    assert [(one.rows, one.identifiers, one.table, one.row) for one in found.largest] == [
        (3, 3, "visits", 0),
        (2, 1, "visits", 4),
    ]
    (one,) = found.widest
    assert (one.kind, one.value, one.others, one.joins, one.row) == ("email", "a@ferry.test", 2, True, 1)
    # Beyond the limit it stands with many and joins none.
    barred = people_joined(weigh(tables, plan_of(identifier_limit=1)))
    assert [(one.kind, one.joins) for one in barred.widest] == [("email", False)]
    assert ("visitor_id",) in {one.kinds for one in barred.by_kinds}


@examples(30)
@given(worlds(), choices())
def test_in_any_world_every_row_that_joins_is_in_one_set(world, both):
    result = weigh(into_core(world), both[1])
    read = result.prepared.read
    shared = {(kind, value) for kind, value, _ in read.known.people.shared}
    names = ("visitor id", "e-mail", "phone", "lead id", "click mark")
    uses, rows, whose = Counter(), Counter(), defaultdict(set)
    for identified, persons in zip(read.identified, read.known.people.person, strict=True):
        for row, joins in enumerate(identified.joins.tolist()):
            if not joins:
                continue
            who = int(persons[row])
            rows[who] += 1
            for kind, column in identified.columns.items():
                value = column[row]
                if value.strip() and (names[kind], value) not in shared:
                    uses[kind, value] += 1
                    whose[kind, value].add(who)
    assert all(len(people) == 1 for people in whose.values())
    kinds = defaultdict(set)
    for (kind, value), times in uses.items():
        if times > 1:
            kinds[next(iter(whose[kind, value]))].add(kind)
    wanted, size = Counter(), Counter()
    for who, number in rows.items():
        key = tuple(IDENTIFIER_KINDS[kind] for kind in sorted(kinds[who]))
        wanted[key] += 1
        size[key] += number
    found = people_joined(result)
    assert {one.kinds: (one.people, one.rows) for one in found.by_kinds} == {k: (wanted[k], size[k]) for k in wanted}
    assert [one.rows for one in found.largest] == sorted((n for n in rows.values() if n > 1), reverse=True)[:10]
