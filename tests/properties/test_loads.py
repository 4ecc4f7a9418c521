"""Loads in any order, cutting and repetition, with any undo in between, give the fingerprint of one clean load (R27)."""

from __future__ import annotations

import itertools
import shutil
from io import BytesIO

import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.rehearse_files import rehearse
from yardstick.stations.gather.undo_loads import list_loads, redo_load, undo_load
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect

HEAD = "visit_id,occurred_at,visitor_id,url\n"
SPEND = "day,platform,account,campaign,cost\n"
NUMBERS = itertools.count(1)
DAYS = ("2026-03-02", "2026-03-03", "2026-03-04")


@pytest.fixture(scope="module")
def new_desk(databases, tmp_path_factory):
    """Gives a new, empty workspace each time."""
    engine, home = connect(databases.fresh()), tmp_path_factory.mktemp("home")
    yield lambda: Desk(engine, home, f"p{next(NUMBERS)}")
    engine.dispose()


visits = st.dictionaries(
    st.integers(0, 30),
    st.tuples(st.sampled_from("pqr"), st.sampled_from(["/?utm_campaign=a", "/?utm_campaign=b", "/", "ftp:x"])),
    min_size=1,
    max_size=12,
)
spent = st.lists(
    st.tuples(st.sampled_from(DAYS), st.sampled_from("xy"), st.sampled_from(["A", "B"]), st.integers(1, 9)), max_size=8
)


def visit_file(rows):
    lines = [f"v{number},2026-03-02T10:{number:02d}:00Z,{person},{url}\n" for number, (person, url) in rows]
    return HEAD + "".join(lines)


def spend_file(rows):
    return SPEND + "".join(f"{day},Quorrin,{account},{campaign},{cost}.00\n" for day, account, campaign, cost in rows)


@examples(15)
@given(visits, spent, st.randoms(use_true_random=False), st.data())
def test_however_rows_come_the_fingerprint_is_that_of_one_clean_load(new_desk, rows, costs, chance, data):
    clean = new_desk()
    keep_now(
        clean, [("visits.csv", visit_file(sorted(rows.items())).encode()), ("spend.csv", spend_file(costs).encode())]
    )
    wanted = clean.snapshots.current()

    other = new_desk()
    order = list(rows.items())
    chance.shuffle(order)
    cut = data.draw(st.integers(0, len(order)))
    # Spend is cut between days of an account, or its parts are given together.
    days = sorted({(day, account) for day, account, _, _ in costs})
    early = set(days[: len(days) // 2])
    loads = [
        [("a.csv", visit_file(order[:cut]))],
        [("b.csv", visit_file(order[cut:]))],
        [("s1.csv", spend_file([c for c in costs if c[:2] in early]))],
        [("s2.csv", spend_file([c for c in costs if c[:2] not in early]))],
    ]
    chance.shuffle(loads)
    # Something that is loaded in between and undone again, and something that comes twice.
    strange = [("strange.csv", visit_file([(1, ("z", "/?utm_campaign=strange")), (40, ("z", "/"))]))]
    loads.insert(chance.randrange(5), strange)
    loads.append(loads[chance.randrange(5)])
    for files in loads:
        keep_now(other, [(name, text.encode()) for name, text in files])
    for load in list_loads(other):
        if load.file == "strange.csv":
            undo_load(other, load.id)
    assert other.snapshots.current().data == wanted.data
    if any(url != "ftp:x" for _, url in rows.values()):
        boards = [Weighing(d.snapshots).board(BoardQuestion(), 0) for d in (clean, other)]
        assert boards[0].fingerprint == boards[1].fingerprint
        assert boards[0].rows == boards[1].rows
    # Parts and snapshot deleted: the same state from the database alone.
    shutil.rmtree(other.home / "snapshots" / other.name)
    again = Desk(other.engine, other.home, other.name)
    again.wake()
    assert again.snapshots.current().data == wanted.data


@examples(15)
@given(st.lists(visits, min_size=2, max_size=4), st.data())
def test_undoing_any_load_in_any_order_leaves_what_the_others_alone_would_give(new_desk, loads, data):
    full = new_desk()
    for i, rows in enumerate(loads):
        keep_now(full, [(f"{i}.csv", visit_file(rows.items()).encode())])
    undone = data.draw(st.lists(st.integers(0, len(loads) - 1), unique=True, min_size=1))
    numbers = {load.file: load.id for load in list_loads(full)}
    for i in undone:
        undo_load(full, numbers[f"{i}.csv"])
    # Some of them back again, and some of those out once more.
    back = data.draw(st.lists(st.sampled_from(undone), unique=True))
    for i in back:
        redo_load(full, numbers[f"{i}.csv"])
    out_again = data.draw(st.lists(st.sampled_from(back), unique=True)) if back else []
    for i in out_again:
        undo_load(full, numbers[f"{i}.csv"])
    undone = [i for i in undone if i not in back or i in out_again]
    assert {int(load.file[0]) for load in list_loads(full) if load.undone} == {*undone}
    rest = new_desk()
    keep_now(rest, [])
    for i, rows in enumerate(loads):
        if i not in undone:
            keep_now(rest, [(f"{i}.csv", visit_file(rows.items()).encode())])
    assert full.snapshots.current().data == rest.refresh().data


@examples(20)
@given(visits, visits, st.data())
def test_a_rehearsal_counts_what_keeping_then_counts(new_desk, first, second, data):
    desk = new_desk()
    keep_now(desk, [("first.csv", visit_file(first.items()).encode())])
    repeated = data.draw(st.lists(st.sampled_from(list(second.items())), max_size=3))
    text = visit_file([*second.items(), *repeated]).encode()
    (said,) = rehearse(desk, [("second.csv", BytesIO(text))]).files
    assert said.read == said.new + said.replaced + said.unchanged + said.repeated + said.rejected
    assert said.lines == said.header + said.read + said.skipped
    keep_now(desk, [("second.csv", text)])
    kept = list_loads(desk)[0]
    for name in ("read", "new", "replaced", "unchanged", "repeated", "rejected", "lines", "header", "skipped"):
        assert getattr(kept, name) == getattr(said, name), name
