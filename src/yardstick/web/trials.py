"""What a trial of the plan says, in the form that goes over the wire."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated

from pydantic import BaseModel, StringConstraints

from yardstick.core.report.breakdown import BY_CAMPAIGN, Breakdown
from yardstick.core.report.report import Row
from yardstick.core.report.verdicts import VerdictCode
from yardstick.core.settling.trial import MovedRow, Place, StillOne
from yardstick.stations.plan.try_plan import PlanTrial
from yardstick.stations.weigh.board_rows import name_of
from yardstick.stations.weigh.shown_figures import credit_sent, ratio_sent

MOST_ROWS = 10
"""So many of the rows that move most are shown."""


class SideOut(BaseModel):
    """A row before or after: money in minor units of the home currency of its side, None = no figure."""

    spend: int | None
    leads: float
    sales: float
    value: int
    cost_per_lead: float | None
    roas: float | None


class MovedOut(BaseModel):
    """A row that moves; without a side where it is not there."""

    called: str
    before: SideOut | None
    after: SideOut | None


class TurnOut(BaseModel):
    """A verdict that turns; None = no verdict."""

    called: str
    kind: str
    before: VerdictCode | None
    after: VerdictCode | None


class RenamedOut(BaseModel):
    """A row that is called otherwise."""

    before: str
    after: str


class TrialOut(BaseModel):
    """What an edit of the plan would move, under one yardstick.

    `state` names what would stand; `moves` says whether any figure does; `value` and `spend` are the minor units that
    move from row to row, or come or go; `rows` are those that move most, `moved` how many do, `elsewhere` how many
    more under other yardsticks; `renamed` are rows that are called otherwise; `yardsticks_gone` and `yardsticks_come`
    those of one plan alone; `still_one` are identifiers that it separates and that other rows keep one person;
    `records` says how many more records count, `quarantined` how many more rows are test records;
    `was_...` and `fingerprint_before` are of the report on the plan as it stands.
    """

    state: str
    moves: bool
    by: str = ""
    yardstick: str = ""
    value: int = 0
    spend: int = 0
    leads: float = 0
    sales: float = 0
    moved: int = 0
    elsewhere: int = 0
    rows: list[MovedOut] = []
    renamed: list[RenamedOut] = []
    turns: list[TurnOut] = []
    yardsticks_gone: list[str] = []
    yardsticks_come: list[str] = []
    still_one: list[StillOne] = []
    records: int = 0
    quarantined: int = 0
    was_currency: str = ""
    currency: str = ""
    was_minor_digits: int = 2
    minor_digits: int = 2
    fingerprint_before: str = ""
    fingerprint: str = ""


TriedState = Annotated[str, StringConstraints(max_length=64)]
"""`TrialOut.state` of the trial that was looked at; empty = none was."""


def trial_out(tried: PlanTrial) -> TrialOut:
    """A trial as it goes over the wire."""
    trial, before, after = tried.trial, tried.before, tried.after
    if trial is None or before is None or after is None:
        return TrialOut(state=tried.state, moves=False)

    def called(place: Place, by: Breakdown = trial.by) -> str:
        return name_of(*place, by)

    def row(moved: MovedRow) -> MovedOut:
        return MovedOut(
            called=called(moved.shown),
            before=_side(moved.before, trial.yardstick),
            after=_side(moved.after, trial.yardstick),
        )

    here = [moved for moved in trial.rows if moved.moves_under(trial.yardstick)]
    return TrialOut(
        state=tried.state,
        moves=tried.moves,
        by=str(trial.by),
        yardstick=trial.yardstick,
        value=trial.value,
        spend=trial.spend,
        leads=credit_sent(trial.leads),
        sales=credit_sent(trial.conversions),
        moved=len(here),
        elsewhere=len(trial.rows) - len(here),
        rows=[row(moved) for moved in here[:MOST_ROWS]],
        renamed=[RenamedOut(before=called(old), after=called(new)) for old, new in trial.renamed],
        turns=[
            TurnOut(called=called(t.place, BY_CAMPAIGN), kind=t.kind, before=t.before, after=t.after)
            for t in tried.turns
        ],
        yardsticks_gone=list(trial.yardsticks_gone),
        yardsticks_come=list(trial.yardsticks_come),
        still_one=list(trial.still_one),
        records=trial.records,
        quarantined=trial.quarantined,
        was_currency=before.plan.money.home_currency,
        currency=after.plan.money.home_currency,
        was_minor_digits=before.plan.money.minor_digits,
        minor_digits=after.plan.money.minor_digits,
        fingerprint_before=before.fingerprint,
        fingerprint=after.fingerprint,
    )


def _side(sides: Mapping[str, Row], yardstick: str) -> SideOut | None:
    side = sides.get(yardstick)
    if side is None:
        return None
    return SideOut(
        spend=side.sums.spend,
        leads=credit_sent(side.sums.leads),
        sales=credit_sent(side.sums.conversions),
        value=side.sums.value,
        cost_per_lead=ratio_sent(side.figures.cost_per_lead),
        roas=ratio_sent(side.figures.roas),
    )
