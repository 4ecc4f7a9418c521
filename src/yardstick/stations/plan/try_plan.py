"""Trying an edit of the plan: what it would move, with nothing kept (R33)."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from sqlalchemy import Connection

from yardstick.core.base.report_fields import MAIN_FIELDS, PRODUCT, ROLE_FIELDS, VISIT_FIELDS
from yardstick.core.reading.tags import EXTRA
from yardstick.core.report.breakdown import Breakdown, known_extras
from yardstick.core.report.weigh import Result
from yardstick.core.settling.trial import Trial, Turn, compare, turned
from yardstick.store.snapshots import Current

from ..weigh.weigh_board import BoardQuestion, Weighing
from ..workspace.desk import Desk
from .plan_edits import PlanEdit, make_edit

TOUCH_FIELDS = (*MAIN_FIELDS, *ROLE_FIELDS, *VISIT_FIELDS)
RECORD_FIELDS = ("goal", "stage", "owner", "status", PRODUCT, "day")


@dataclass(frozen=True)
class PlanTrial:
    """What an edit of the plan would move.

    Attributes
    ----------
    state : name of what would stand; keeping it gives just that or nothing
    trial : what moves; None where no figure can, as nothing was loaded or what figures depend on stays as it is
    turns : verdicts that turn
    before, after : the reports
    """

    state: str
    trial: Trial | None = None
    turns: tuple[Turn, ...] = ()
    before: Result | None = None
    after: Result | None = None

    @property
    def moves(self) -> bool:
        """Whether any figure or verdict is another."""
        return bool(self.turns) or (self.trial is not None and self.trial.moves)


def try_edit(desk: Desk, weighing: Weighing, edit: PlanEdit, basis: int) -> PlanTrial:
    """What an edit of the plan would move.

    Parameters
    ----------
    desk, weighing : the workspace
    edit, basis : see `change_plan.keep_edit`

    Raises
    ------
    SettingsError, Overtaken
        As keeping it would.

    Notes
    -----
    The edit is put on record as it is to keep it, what stands then is read, and the transaction is rolled back: trying
    and keeping are one path. What is asked is the board as it opens; where no amount moves by campaign, it is asked by
    the other fields in turn, and the first by which one moves is shown.
    """
    return try_change(desk, weighing, lambda connection: make_edit(desk, connection, edit, basis))


def try_change(desk: Desk, weighing: Weighing, make: Callable[[Connection], object]) -> PlanTrial:
    """What anything that figures depend on would move; see `try_edit`.

    Parameters
    ----------
    desk, weighing : the workspace
    make : puts it on record in a transaction, which is rolled back
    """
    with desk.engine.connect() as connection:
        make(connection)
        state = desk.state_in(connection)
        connection.rollback()
    now = weighing.now()
    if now is None or not now.loads:
        return PlanTrial(state.name)
    after = desk.named(state)
    if _same_figures(weighing, now, after):
        return PlanTrial(state.name)
    return _compared(state.name, weighing, now, after)


def _same_figures(weighing: Weighing, now: Current, after: Current) -> bool:
    return (now.data, now.origin) == (after.data, after.origin) and (
        weighing.plan_in(now).figures == weighing.plan_in(after).figures
    )


def _compared(name: str, weighing: Weighing, now: Current, then: Current) -> PlanTrial:
    shown: tuple[Trial, Result, Result] | None = None
    for by in _breakdowns(weighing, now, then):
        lasting = by.is_by_campaign
        (before, _), (after, chosen) = (weighing.result(BoardQuestion(by), of, lasting) for of in (now, then))
        found = compare(before, after, chosen)
        if shown is None or (found.rows and not shown[0].rows) or found.amounts:
            shown = (found, before, after)
        if found.amounts:
            break
    assert shown is not None
    trial, before, after = shown
    judging = BoardQuestion()
    judged = [weighing.certainty(judging, of) for of in (now, then)]
    of_campaigns = trial if trial.by.is_by_campaign else compare(judged[0][0], judged[1][0], trial.yardstick)
    turns = turned(of_campaigns, *judged)
    return PlanTrial(name, trial, tuple(turns), before, after)


def _breakdowns(weighing: Weighing, now: Current, then: Current) -> Iterator[Breakdown]:
    """By campaign, then by everything that a change of how rows are read may move."""
    plans = [weighing.plan_in(of) for of in (now, then)]
    yield Breakdown(("campaign",))
    if len({(plan.reading, plan.trailing, plan.reporting.hidden_channels) for plan in plans}) == 1:
        return
    extras = sorted(known_extras(plans[0].reading) & known_extras(plans[1].reading))
    for field in (*TOUCH_FIELDS, *RECORD_FIELDS, *(f"{EXTRA}{name}" for name in extras)):
        if field != "campaign":
            yield Breakdown((field,))
