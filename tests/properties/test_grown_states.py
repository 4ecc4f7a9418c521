"""Rows that come to those before are all that is looked at anew, and what is said is what a fresh start would say."""

from __future__ import annotations

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from worlds import csv_bytes, worlds
from yardstick.core.base import columns, identifier_columns
from yardstick.core.reading import marks
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.gather.undo_loads import list_loads, redo_load, undo_load
from yardstick.stations.weigh.weigh_board import BoardQuestion, NothingYet, Weighing
from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect
from yardstick.store.snapshots import Snapshots

SETTINGS = b'click_marks = ["ckid"]\ntime_zone = "Australia/Adelaide"\n'
NUMBERS = itertools.count(1)


@pytest.fixture(scope="module")
def new_desk(databases, tmp_path_factory):
    """Gives a new, empty workspace each time."""
    engine, home = connect(databases.fresh()), tmp_path_factory.mktemp("home")
    yield lambda: Desk(engine, home, f"p{next(NUMBERS)}")
    engine.dispose()


def answer(snapshots, weighing):
    try:
        board = weighing.board(BoardQuestion(), 0)
    except NothingYet:
        return None
    tables = snapshots.read(snapshots.current()).named()
    where = {name: list(zip(t.file.strings(), t.line.tolist(), strict=True)) for name, t in tables.items()}
    return board.fingerprint, board.origin, board.rows, board.ties, board.findings, where


@pytest.mark.parametrize("large", [False, True], ids=["as they are", "as if all were large"])
@examples(6)
@given(world=worlds(), data=st.data())
def test_a_state_that_grew_says_what_a_fresh_start_says(new_desk, large, world, data):
    desk = new_desk()
    weighing = Weighing(desk.snapshots)
    pieces = [("settings.toml", SETTINGS)]
    for name, rows in world.items():
        for number in range(data.draw(st.integers(1, 3))):
            part = [row for at, row in enumerate(rows) if at % 3 == number] if number < 2 else rows
            pieces.append((f"{name}{number}.csv", csv_bytes(name, part)))
    pieces = data.draw(st.permutations(pieces))
    with pytest.MonkeyPatch.context() as patch:
        for module, name in ((columns, "_MANY"), (identifier_columns, "LARGE"), (marks, "LARGE")) if large else ():
            patch.setattr(module, name, 0)
        for piece in pieces:
            keep_now(desk, [piece])
            if data.draw(st.booleans()):
                loads = [load for load in list_loads(desk) if load.can_undo]
                if loads and data.draw(st.integers(0, 3)) == 0:
                    undo_load(desk, data.draw(st.sampled_from(loads)).id)
                gone = [load for load in list_loads(desk) if load.can_redo]
                if gone and data.draw(st.integers(0, 2)) == 0:
                    redo_load(desk, data.draw(st.sampled_from(gone)).id)
                fresh = Snapshots(desk.home / "snapshots" / desk.name)
                assert answer(desk.snapshots, weighing) == answer(fresh, Weighing(fresh))
