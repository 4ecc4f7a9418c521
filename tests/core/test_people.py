"""People looked at and taken apart: which row joined what, what separates them, how they are found (R6, R33)."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from worlds import choices, into_core, worlds
from written import written
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Condition, QuarantineRule, Separation
from yardstick.core.report.find_records import find_recent, find_records
from yardstick.core.report.person_page import find_row, person_page
from yardstick.core.report.person_rows import chain_between, rows_of_person
from yardstick.core.report.recorded import Apart
from yardstick.core.report.weigh import weigh
from yardstick.core.settling.trial import compare
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.rows.input_tables import read_file, tables_of

SITE = "https://www.lunnick.example/"
TEXTS = {
    "visits": f"""visit_id,occurred_at,visitor_id,url
a1,2026-03-01T09:00:00Z,v-1,{SITE}?utm_source=quorrin&utm_campaign=Whales
a2,2026-03-01T09:10:00Z,v-1,{SITE}
b1,2026-03-02T09:00:00Z,v-2,{SITE}?utm_source=ostrel&utm_campaign=Cards
c1,2026-03-02T09:00:00Z,v-3,{SITE}
""",
    "leads": """lead_id,occurred_at,visitor_id,email,phone,name
L-1,2026-03-03T09:00:00Z,v-1,desk@mail.example,,Maren Holt
L-2,2026-03-04T09:00:00Z,v-2,Desk@mail.example,+61 8 5550 0104,
L-3,2026-03-04T10:00:00Z,,test@harnock.example,,Desk Test
""",
    "conversions": """conversion_id,occurred_at,visitor_id,goal,total,lead_id,code
o1,2026-03-05T09:00:00Z,,ticket,50.00,L-2,PIER
""",
}


def plan(**more):
    rules = (QuarantineRule((Condition("email_host", "is", ("harnock.example",)),)),)
    return plan_of(home_currency="AUD", quarantine=rules, **more)


@pytest.fixture(scope="module")
def tables():
    return tables_of([read_file(csv_of(f"{n}.csv", text.encode()), "UTC") for n, text in TEXTS.items()]).tables


def page_of(result, table, id):
    row = find_row(result.prepared.read, table, id)
    assert row is not None
    return person_page(result, table, row)


def test_a_person_is_told_by_the_row_that_joined_each_identifier(tables):
    page = page_of(weigh(tables, plan()), "conversions", "o1")
    assert [(i.written, i.by.id, i.rows, i.shared_with) for i in page.identifiers] == [
        ("visitor_id:v-1", "a1", 3, 0),
        ("email:desk@mail.example", "L-1", 2, 0),
        ("lead_id:L-1", "L-1", 1, 0),
        ("visitor_id:v-2", "L-2", 2, 0),
        ("phone:+61855500104", "L-2", 1, 0),
        ("lead_id:L-2", "L-2", 2, 0),
    ]
    assert [i.shown for i in page.identifiers][1::3] == ["d...@mail.example", "...04"]
    assert (page.name, page.named_by.id, page.named_by.line) == ("M... H...", "L-1", 2)
    assert [(row.table, row.id, row.starts, row.campaign) for row in page.rows] == [
        ("visits", "a1", True, "Whales"),
        ("visits", "a2", False, ""),
        ("visits", "b1", True, "Cards"),
        ("leads", "L-1", False, ""),
        ("leads", "L-2", False, ""),
        ("conversions", "o1", False, ""),
    ]
    knots = {row.id: [page.identifiers[i].written for i in row.knot] for row in page.rows if row.knot}
    assert knots == {
        "L-1": ["visitor_id:v-1", "email:desk@mail.example", "lead_id:L-1"],
        "L-2": ["visitor_id:v-2", "email:desk@mail.example", "phone:+61855500104", "lead_id:L-2"],
    }
    assert (page.rows[-1].what, page.rows[-1].value, page.rows[-1].apart) == ("ticket", 5000, None)
    assert (page.more_rows, page.more_identifiers) == (0, 0)


def test_a_record_that_joins_nobody_is_a_person_of_its_own(tables):
    page = page_of(weigh(tables, plan()), "leads", "L-3")
    assert page.identifiers == ()
    assert [(row.id, row.apart) for row in page.rows] == [("L-3", Apart.QUARANTINED)]


def test_an_identifier_of_too_many_is_shown_and_joins_nobody(tables):
    result = weigh(tables, plan(identifier_limit=3))
    page = page_of(result, "leads", "L-1")
    assert [(i.written, i.shared_with) for i in page.identifiers if i.shared_with] == [("email:desk@mail.example", 5)]
    assert {row.id for row in page.rows} == {"a1", "a2", "L-1"}
    assert chain_between(result.prepared.read, "visitor_id:v-1", "email:desk@mail.example") is None


APART = Separation("visitor_id:v-1", "email:desk@mail.example")


@pytest.mark.parametrize(
    ("separations", "people"),
    [
        ((), {"a1", "a2", "b1", "L-1", "L-2", "o1"}),
        ((APART,), {"a1", "a2", "L-1"}),
        # The other way round the row keeps its address and loses its visitor: it goes with the desk.
        ((Separation(APART.second, " visitor_id: v-1 "),), {"a1", "a2"}),
        ((Separation(APART.first, APART.second, date(2026, 3, 3)),), {"a1", "a2", "L-1"}),
        ((Separation(APART.first, APART.second, date(2026, 3, 4)),), {"a1", "a2", "b1", "L-1", "L-2", "o1"}),
        ((Separation("visitor_id:v-2", "click_id:desk@mail.example"),), {"a1", "a2", "b1", "L-1", "L-2", "o1"}),
    ],
)
def test_on_rows_with_both_the_second_is_none(tables, separations, people):
    result = weigh(tables, plan(separations=separations))
    assert {row.id for row in page_of(result, "visits", "a1").rows} == people


@pytest.mark.parametrize(
    ("since", "mark", "people"),
    [("", "", [{"1", "2"}, {"3"}]), ("2026-04-03", "", [{"1", "2", "3"}]), ("", "k9", [{"1", "2", "3"}])],
)
def test_the_worked_case_of_separate(since, mark, people):
    """Rows v-1; v-1 with desk@; v-2 with desk@; v-1 and desk@ separated; from day 3; with a mark that both carry."""
    rows = [("1", "v-1", "", ""), ("2", "v-1", "desk@mail.example", mark), ("3", "v-2", "desk@mail.example", mark)]
    lines = [f"{i},2026-04-0{i}T09:00:00Z,{visitor},{email},{click}" for i, visitor, email, click in rows]
    text = "lead_id,occurred_at,visitor_id,email,click_id\n" + "\n".join(lines) + "\n"
    given = tables_of([read_file(csv_of("leads.csv", text.encode()), "UTC")]).tables
    first = date.fromisoformat(since) if since else None
    result = weigh(given, plan(separations=(Separation("visitor_id:v-1", "email:desk@mail.example", first),)))
    found = {frozenset(row.id for row in page_of(result, "leads", id).rows) for id in "123"}
    assert found == {frozenset(of) for of in people}


def test_a_trial_names_the_rows_by_which_two_stay_one(tables):
    more = TEXTS["conversions"] + "o2,2026-03-06T09:00:00Z,v-1,ticket,5.00,L-2,\n"
    files = {**TEXTS, "conversions": more}
    given = tables_of([read_file(csv_of(f"{n}.csv", t.encode()), "UTC") for n, t in files.items()]).tables
    before, after = (weigh(given, plan(separations=of)) for of in ((), (APART,)))
    trial = compare(before, after, "linear")
    (still,) = trial.still_one
    assert (still.first, still.second, [row.id for row in still.rows]) == (*(APART.first, APART.second), ["o2", "L-2"])
    assert trial.moves
    assert compare(after, after, "linear").still_one == ()
    parted = compare(weigh(tables, plan()), weigh(tables, plan(separations=(APART,))), "linear")
    assert parted.still_one == ()
    assert parted.value > 0


@examples(40)
@given(worlds(), choices(), st.data())
def test_separating_and_taking_it_back_gives_the_same_bytes(tmp_path_factory, world, both, data):
    given, mine = into_core(world), both[1].having(separations=())
    before = weigh(given, mine)
    read = before.prepared.read
    persons = sorted({int(p) for group in read.known.people.person for p in group.tolist()})
    for person in persons[:3]:
        rows = rows_of_person(read, person)
        for at in range(len(rows)):
            held = [number for number in rows.carried[at].tolist() if number >= 0]
            assert len(held) == len(set(held))
        # Every row but a person's only one is tied to the others by an identifier that joins.
        if len(rows) > 1:
            assert all((rows.carried[at] >= 0).any() for at in range(len(rows)))
    kinds = st.sampled_from(["visitor_id:p", "email:a@x.example", "phone:+6181", "lead_id:lead0", "click_id:k1"])
    pair = data.draw(st.lists(kinds, min_size=2, max_size=2, unique=True))
    weigh(given, mine.having(separations=(Separation(*pair),)))
    out = tmp_path_factory.mktemp("out")
    again = weigh(given, mine.having(separations=()))
    assert written(again, out / "again") == written(before, out / "before")


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("L-1", [("leads", "lead_id", "L-1")]),
        ("desk@", [("leads", "email", "D...@mail.example"), ("leads", "email", "d...@mail.example")]),
        ("0104", [("leads", "phone", "...04")]),
        ("+61 8 5550", [("leads", "phone", "...04")]),
        ("hol", [("leads", "name", "M... H...")]),
        ("pier", [("conversions", "code", "PIER")]),
        ("v-3", [("visits", "visitor_id", "v-3")]),
        ("olt maren", []),
        ("l", []),
        ("  ", []),
    ],
)
def test_records_are_found_by_what_is_known_of_them(tables, text, found):
    records, number = find_records(weigh(tables, plan()).prepared.read, plan().reading, text)
    seen = [(one.table, one.field, one.shown) for one in records]
    assert (seen, number) == (found, len(found))


TESTED = {
    "visits": f"""visit_id,occurred_at,visitor_id,url,is_test
t1,2026-03-01T09:00:00Z,z,{SITE}?yt-test=tok-77&utm_campaign=Whales,
t2,2026-03-01T09:01:00Z,z,{SITE},
t3,2026-03-01T09:02:00Z,y,{SITE},true
n1,2026-03-01T09:00:00Z,n,{SITE}?utm_campaign=tok-77,
""",
    "leads": """lead_id,occurred_at,visitor_id,email,is_test
L-1,2026-03-01T09:03:00Z,z,sten@harnock.example,
L-2,2026-03-01T09:04:00Z,,me@line.example,true
""",
    "conversions": """conversion_id,occurred_at,visitor_id,email,goal,total
o1,2026-03-01T09:05:00Z,z,me@line.example,ticket,50.00
o2,2026-03-01T09:06:00Z,y,,ticket,60.00
o3,2026-03-01T09:06:00Z,n,,ticket,60.00
""",
}


@pytest.fixture(scope="module")
def tested():
    given = [read_file(csv_of(f"{n}.csv", text.encode()), "UTC") for n, text in TESTED.items()]
    return weigh(tables_of(given).tables, plan())


def test_a_test_is_found_by_its_token_with_all_that_it_made(tested):
    """Test records join nobody (R9): what carries the same identifiers stands beside, whichever of them one looks at."""
    records, number = find_records(tested.prepared.read, tested.plan.reading, "TOK-77")
    assert [(one.table, one.id, one.field, one.shown) for one in records] == [("visits", "t1", "test token", "t1")]
    assert number == 1
    ids = {"t1", "t2", "L-1", "L-2", "o1"}
    for table, id in (("visits", "t1"), ("visits", "t2"), ("leads", "L-1"), ("leads", "L-2"), ("conversions", "o1")):
        page = page_of(tested, table, id)
        assert {row.id for row in (*page.rows, *page.also)} == ids
        assert not {row.id for row in page.rows} & {row.id for row in page.also}
    page = page_of(tested, "visits", "t1")
    assert [row.id for row in page.rows] == ["t1"]
    # The e-mail of L-1 is a test's by the rule of its host; what it shares with t2 is its visitor.
    assert [(row.id, row.apart) for row in page.also] == [
        ("t2", None),
        ("L-1", Apart.QUARANTINED),
        ("L-2", Apart.TEST),
        ("o1", None),
    ]
    assert [row.id for row in page_of(tested, "conversions", "o2").also] == ["t3"]
    assert page_of(tested, "conversions", "o3").also == ()


def test_of_a_test_with_very_many_rows_it_is_said_how_many_are_not_listed():
    head = "visit_id,occurred_at,visitor_id,url,is_test\n"
    lines = "".join(f"w{n},2026-03-01T09:00:00Z,z,{SITE},\n" for n in range(600))
    text = f"{head}t1,2026-03-01T08:00:00Z,z,{SITE},true\n{lines}"
    given = tables_of([read_file(csv_of("visits.csv", text.encode()), "UTC")]).tables
    page = page_of(weigh(given, plan()), "visits", "t1")
    assert (len(page.also), page.more_also) == (500, 100)


def test_what_came_just_now_is_found_the_latest_first(tested):
    nine = 1772355600_000_000  # 2026-03-01T09:00:00Z
    records, number = find_recent(tested.prepared.read, nine + 180_000_000, nine + 300_000_000)
    assert ([one.id for one in records], number) == (["o1", "L-2", "L-1"], 3)
    assert find_recent(tested.prepared.read, nine - 10, nine - 1) == ([], 0)


def test_an_equal_id_comes_before_one_that_begins_so(tables):
    text = "lead_id,occurred_at\n" + "".join(f"L{n},2026-03-0{n % 9 + 1}T09:00:00Z\n" for n in range(100, 140))
    given = tables_of([read_file(csv_of("leads.csv", (text + "L1,2026-03-01T09:00:00Z\n").encode()), "UTC")]).tables
    records, number = find_records(weigh(given, plan()).prepared.read, plan().reading, "l1")
    assert (records[0].id, len(records), number) == ("L1", 20, 41)
    assert [one.at for one in records[1:]] == sorted((one.at for one in records[1:]), reverse=True)
