"""Any row of edits and undoings, on a real PostgreSQL: every undo brings back what stood, every state can be rebuilt."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from planned_week import planned_week_files
from yardstick.core.report.weigh import weigh
from yardstick.stations.gather.keep_files import keep_now
from yardstick.stations.mark.edit_sheet import Sheets
from yardstick.stations.plan.change_plan import change_general, change_records, read_plan, undo_plan
from yardstick.stations.weigh.weigh_board import BoardQuestion, Weighing
from yardstick.stations.workspace.desk import Desk
from yardstick.store.database import connect
from yardstick.store.links import RowChange
from yardstick.store.loading import CannotUndo

PLAN_EDITS: dict[str, list[list[dict[str, object]]]] = {
    "campaign": [[{"name": "Midnight Boat", "code": "mnb-26"}], [{"name": "Midnight Boat", "plain_name": "Night"}], []],
    "rename": [[{"field": "source", "old": "quorrin", "new": "Q"}], []],
    "other_cost": [[{"campaign": "Freight Fridays", "cost": "10.00", "from": "2026-03-02", "to": "2026-03-04"}], []],
    "channel": [[{"name": "Boats", "when": [{"field": "source", "op": "is", "value": "quorrin"}]}], []],
}
PLAN = st.sampled_from([(section, i) for section, edits in PLAN_EDITS.items() for i in range(len(edits))])
CELLS = st.fixed_dictionaries(
    {},
    optional={
        "campaign": st.sampled_from(["mnb-26", "Midnight Boat", ""]),
        "source": st.sampled_from(["ellivane", "ostrel", ""]),
        "medium": st.sampled_from(["email", ""]),
        "price": st.sampled_from(["0.35", "1.10", ""]),
    },
)
ROWS = st.lists(st.tuples(st.sampled_from("abc"), st.none() | CELLS), min_size=1, max_size=3, unique_by=lambda c: c[0])
STEPS = st.lists(
    st.one_of(
        st.tuples(st.just("plan"), PLAN),
        st.tuples(st.just("margin"), st.sampled_from(["0.4", "0.5", None])),
        st.tuples(st.just("rows"), ROWS),
        st.tuples(st.just("undo plan"), st.none()),
        st.tuples(st.just("undo rows"), st.none()),
    ),
    min_size=3,
    max_size=9,
)


class Walk:
    """Takes steps, and remembers by itself what each undo must bring back."""

    def __init__(self, desk: Desk) -> None:
        self.desk, self.sheets = desk, Sheets(desk)
        self.plans, self.rows = [self.plan()], [self.row_cells()]
        self.seen: dict[str, list] = {}

    def plan(self) -> dict:
        plan = read_plan(self.desk)
        return {"sections": plan.sections, "general": plan.general}

    def row_cells(self) -> list[tuple[str, dict[str, str]]]:
        return [(row.key, row.cells) for row in self.sheets.read().rows]

    def take(self, kind: str, what) -> None:
        if kind in ("plan", "margin"):
            basis = read_plan(self.desk).basis
            if kind == "plan":
                section, which = what
                change_records(self.desk, section, PLAN_EDITS[section][which], basis)
            else:
                change_general(self.desk, {"margin": what}, basis)
            self.plans.append(self.plan())
        elif kind == "rows":
            changes = [RowChange(key, cells) for key, cells in what]
            self.sheets.change(changes, self.sheets.read().basis, "a step")
            self.rows.append(self.row_cells())
        elif kind == "undo plan":
            self._undo(lambda: undo_plan(self.desk), self.plans)
        else:
            self._undo(self.sheets.undo, self.rows)

    @staticmethod
    def _undo(undo, past: list) -> None:
        try:
            undo()
        except CannotUndo:
            assert len(past) == 1, "there was something to undo"
            return
        past.pop()

    def check(self) -> None:
        assert self.plan() == self.plans[-1]
        assert self.row_cells() == self.rows[-1]
        board = Weighing(self.desk.snapshots).board(BoardQuestion(), 0)
        assert self.seen.setdefault(board.fingerprint, board.rows) == board.rows


def test_every_undo_brings_back_what_stood(databases, tmp_path):
    numbers = iter(range(1_000_000))

    @examples(7)
    @given(STEPS)
    def walk(steps):
        engine = connect(databases.fresh())
        try:
            desk = Desk(engine, tmp_path / f"home-{next(numbers)}", "test")
            # The settings of the week are the first state; loading them is not part of the walk.
            keep_now(desk, planned_week_files())
            tour = Walk(desk)
            tour.plans.insert(0, {"sections": {}, "general": {}})
            for kind, what in steps:
                if kind == "undo plan" and len(tour.plans) == 2:
                    continue
                tour.take(kind, what)
                tour.check()
            data = desk.snapshots.current().data
            rebuilt = desk.rebuild(data)
            assert rebuilt is not None
            assert weigh(*rebuilt).rows == Weighing(desk.snapshots).result(BoardQuestion())[0].rows
            assert desk.settings_text()
        finally:
            engine.dispose()

    walk()
