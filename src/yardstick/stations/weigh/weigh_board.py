"""Weigh: the ruler board, answered from the snapshot alone, and the trace of any of its figures."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, datetime
from decimal import Decimal

from yardstick.core.base.conditions import NEGATIONS
from yardstick.core.base.day_numbers import MINUTE_US
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.patience import asking
from yardstick.core.base.tables import Tables
from yardstick.core.base.words import fold
from yardstick.core.costs.freshness import SourceFreshness, freshness
from yardstick.core.plan.costing_phase import Money
from yardstick.core.plan.counting_phase import Trailing
from yardstick.core.plan.plan import Plan
from yardstick.core.plan.reading_phase import Reading
from yardstick.core.report.breakdown import BY_CAMPAIGN, NAMED, Breakdown
from yardstick.core.report.filters import Filter, read_filter
from yardstick.core.report.find_records import FoundRecord, find_recent, find_records
from yardstick.core.report.judged import Judged, judge_result
from yardstick.core.report.maturity import LEADS, SALES
from yardstick.core.report.person_page import find_row, person_page
from yardstick.core.report.person_seen import PersonPage
from yardstick.core.report.prepared_data import prepare_data
from yardstick.core.report.read_rows import ReadRows, read_rows
from yardstick.core.report.record_page import find_record, record_page
from yardstick.core.report.recorded import RecordPage
from yardstick.core.report.summary import TieLine
from yardstick.core.report.trace import trace_part, trace_row
from yardstick.core.report.traced import Trace
from yardstick.core.report.unrated import WithoutRate
from yardstick.core.report.weigh import Result, weigh
from yardstick.store.snapshots import Current, PartsMissing, Snapshots

from ..workspace.deadline import WEIGHING_S, Deadline, TooLong
from ..workspace.refusals import NotFound
from .board_rows import BoardRow, Verdicts, nearest
from .kept_answers import KeptAnswers
from .shown_board import shown_board

MOST_VALUES = 300
MOST_NEAR = 3


class NothingYet(LookupError):
    """There is no data to weigh yet."""


@dataclass(frozen=True)
class BoardQuestion:
    """What the board is asked. None = as the workspace's plan says.

    Attributes
    ----------
    by : what rows stand for
    where : filters, as `core.filters.read_filter` takes them
    report_from, report_to : days, both inclusive
    click_days : look-back of clicks, over every goal
    yardstick : name of the chosen one; empty = the first
    panel : names of the yardsticks that verdicts ask
    """

    by: Breakdown = BY_CAMPAIGN
    report_from: date | None = None
    report_to: date | None = None
    click_days: Decimal | None = None
    yardstick: str = ""
    where: tuple[str, ...] = ()
    panel: tuple[str, ...] = ()


@dataclass(frozen=True)
class Board:
    """Everything the ruler board shows. `nearest` are names near to what filters ask for, where nothing fits them."""

    question: BoardQuestion
    plan: Plan
    fingerprint: str
    data: str
    origin: str
    rows: list[BoardRow]
    total: BoardRow
    ads_only: BoardRow
    ties: TieLine
    sources: list[SourceFreshness]
    findings: dict[str, int]
    rejected: int
    without_rate: list[WithoutRate]
    without_event: int
    first_day: str
    last_day: str
    nearest: dict[str, list[str]]


def present_of(plan: Plan, now: int) -> int:
    """The instant that decides which days are over (R21): as the plan says, else the present one, in microseconds."""
    said = plan.reporting.as_of
    return int(datetime.fromisoformat(said).timestamp()) * 1_000_000 if said else now


class Weighing:
    """Answers questions about one workspace from its snapshots. It has no way to the database."""

    def __init__(self, snapshots: Snapshots, mend: Callable[[], object] | None = None) -> None:
        self._snapshots, self._mend = snapshots, mend
        self._tables, self._read_rows, self._prepared = KeptAnswers(2), KeptAnswers(2), KeptAnswers(3)
        self._results, self._judged = KeptAnswers(12), KeptAnswers(12)
        self._shown = KeptAnswers(12)
        self._read_last: ReadRows | None = None
        self._of: tuple[str, str] = ("", "")

    def board(self, question: BoardQuestion, now: int) -> Board:
        """The ruler board.

        Parameters
        ----------
        question : what is asked
        now : the present instant, microseconds since 1970

        Raises
        ------
        NothingYet
            If nothing was loaded yet.
        SettingsError
            If the question names a field or yardstick that is not there.
        """
        current, result = self._result(question)
        chosen = self._chosen(question, result)
        tables = result.prepared.tables
        # Whichever yardstick is chosen: they all stand in it.
        shown = self._shown.get((result.fingerprint, result.origin), lambda: shown_board(result))
        return Board(
            question=replace(question, yardstick=chosen),
            plan=result.plan,
            fingerprint=result.fingerprint,
            data=current.data,
            origin=current.origin,
            rows=shown.rows,
            total=shown.total,
            ads_only=shown.ads_only,
            ties=shown.ties,
            sources=freshness(tables, result.plan.reading, result.plan.costing, present_of(result.plan, now)),
            findings=shown.findings,
            rejected=len(result.rejected),
            without_rate=shown.without_rate,
            without_event=shown.without_event,
            first_day=shown.days[0],
            last_day=shown.days[1],
            nearest={}
            if not question.where or any(row.bucket == NAMED for row in shown.rows)
            else self._nearest(question),
        )

    def certainty(self, question: BoardQuestion, of: Current | None = None) -> tuple[Result, Judged]:
        """How sure the figures of a question are: intervals, maturity, verdicts; see `board` and `result`."""
        _, result = self._result(question, of)
        self._chosen(question, result)
        tables = result.prepared.tables
        return result, self._judged.get(
            (result.fingerprint, result.origin), lambda: judge_result(tables, result, False)
        )

    def now(self) -> Current | None:
        """The state that is answered from."""
        return self._snapshots.current()

    def plan(self) -> Plan:
        """The plan of the state that is answered from."""
        current = self.now()
        return self._snapshots.plan(current) if current is not None else Plan()

    def plan_in(self, state: Current) -> Plan:
        """The plan of a state."""
        return self._snapshots.plan(state)

    def result(self, question: BoardQuestion, of: Current | None = None, lasting: bool = True) -> tuple[Result, str]:
        """The whole result of a question, and the chosen yardstick.

        Parameters
        ----------
        question : what is asked
        of : a state that is not kept; None = what stands
        lasting : False for one that nobody will ask again, so that it takes no other answer's place
        """
        _, result = self._result(question, of, lasting)
        return result, self._chosen(question, result)

    def trace(
        self, question: BoardQuestion, bucket: str, values: tuple[str, ...], figure: str, first: int, limit: int
    ) -> tuple[Result, str, Trace]:
        """The trace of one figure of one row, with the result it is from and the chosen yardstick."""
        _, result = self._result(question)
        chosen = self._chosen(question, result)
        return result, chosen, trace_row(result, chosen, bucket, values, figure, first, limit)

    def trace_part(self, question: BoardQuestion, part: str, first: int, limit: int) -> tuple[Result, str, Trace]:
        """The trace of one part of the tie line, with the result it is from and the chosen yardstick."""
        _, result = self._result(question)
        chosen = self._chosen(question, result)
        return result, chosen, trace_part(result, chosen, part, first, limit)

    def record(self, question: BoardQuestion, table: str, id: str) -> tuple[Result, str, RecordPage]:
        """The page of a record, with the result it is looked at by and the chosen yardstick.

        Parameters
        ----------
        question : whose range, windows and yardsticks hold
        table, id : "leads" or "conversions", and the record's id

        Raises
        ------
        NotFound
            If no accepted row has the id.
        """
        _, result = self._result(question)
        chosen = self._chosen(question, result)
        number = find_record(result.prepared, table, id)
        if number is None:
            raise NotFound(_no_row(table, id))
        return result, chosen, record_page(result, number)

    def person(self, question: BoardQuestion, table: str, id: str) -> tuple[Result, PersonPage]:
        """The page of the person of a row, with the result it is looked at by.

        Parameters
        ----------
        question : whose range holds
        table, id : "visits", "leads" or "conversions", and the row's id

        Raises
        ------
        NotFound
            If no accepted row has the id.
        """
        _, result = self._result(question)
        row = find_row(result.prepared.read, table, id)
        if row is None:
            raise NotFound(_no_row(table, id))
        return result, person_page(result, table, row)

    def find(self, text: str) -> tuple[list[FoundRecord], int]:
        """Records by a text, and how many there are; none where nothing was loaded."""
        now = self.now()
        if now is None or not now.loads:
            return [], 0
        _, result = self._result(BoardQuestion())
        return find_records(result.prepared.read, result.plan.reading, text)

    def find_recent(self, minutes: int, now: int) -> tuple[list[FoundRecord], int]:
        """What came within so many minutes before an instant (microseconds since 1970); see `find`."""
        state = self.now()
        if state is None or not state.loads:
            return [], 0
        _, result = self._result(BoardQuestion())
        until = present_of(result.plan, now)
        return find_recent(result.prepared.read, until - minutes * MINUTE_US, until)

    def values(self, question: BoardQuestion, field: str) -> list[str]:
        """Values a field has in the range of a question, the most met first; to pick a filter's value from."""
        rows = self.board(replace(question, by=Breakdown((field,)), where=(), panel=()), 0).rows
        met = sorted(rows, key=lambda r: (-(r.touches or 0), -(r.spend or 0)))
        return list(dict.fromkeys(r.values[0] for r in met if r.bucket == NAMED or r.spend))[:MOST_VALUES]

    def verdict_words(self, question: BoardQuestion, measure: str) -> Verdicts:
        """What is said of each row, by its place.

        Parameters
        ----------
        question : what is asked
        measure : `value` for sales, `leads` for leads
        """
        result, judged = self.certainty(question)
        kind = LEADS if measure == "leads" else SALES
        return {
            (result.places[v.place].bucket, result.places[v.place].shown): v.code
            for v in judged.verdicts
            if v.kind == kind
        }

    def _nearest(self, question: BoardQuestion) -> dict[str, list[str]]:
        """For each filter that asks for values, names and codes in the range that are near to them: what may have been
        meant where nothing fits."""
        out = {}
        for text in question.where:
            stated = read_filter(text)
            if not stated.values or stated.op in NEGATIONS:
                continue
            there = self.values(question, stated.field)
            called = {fold(name): name for name in there}
            if stated.field == "campaign":
                plan = self.plan()
                for campaign in plan.campaigns:
                    for other in (campaign.code, campaign.name, *campaign.ids):
                        if other and campaign.shown in there:
                            called.setdefault(fold(other), campaign.shown)
            found = [name for value in stated.values for name in nearest(value, called)]
            out[text] = list(dict.fromkeys(found))[:MOST_NEAR]
        return out

    def _result(
        self, question: BoardQuestion, of: Current | None = None, lasting: bool = True
    ) -> tuple[Current, Result]:
        now = self.now()
        current = of or now
        if current is None or not current.loads:
            raise NothingYet("nothing is loaded yet: go to Gather and drop your files")
        plan = _asked(self._snapshots.plan(current), question)
        where = tuple(read_filter(text) for text in question.where)
        # What is tried may be of other rows, as in another time zone: that of what stands stays.
        if now is not None and (now.data, now.origin) == (current.data, current.origin) != self._of:
            # Answers about other rows are asked for no more, and are as large as these.
            self._of = (current.data, current.origin)
            for kept in (self._tables, self._read_rows, self._prepared, self._results, self._judged, self._shown):
                kept.forget()
            self._read_last = None
        key = (current.data, current.origin, plan.figures, question.by, where)
        if not lasting and not self._results.has(key):
            return current, self._weigh(current, plan, question.by, where)
        return current, self._results.get(key, lambda: self._weigh(current, plan, question.by, where))

    def _weigh(self, current: Current, plan: Plan, by: Breakdown, where: tuple[Filter, ...]) -> Result:
        tables = self._tables.get((current.data, current.origin), lambda: self._read(current))
        phases = (plan.reading, plan.trailing, plan.costing, plan.money)
        deadline = Deadline(WEIGHING_S)

        def may_go_on() -> None:
            if deadline.passed:
                raise TooLong("this question took too long and was given up: ask for fewer fields, filters or rules")

        with asking(may_go_on):
            # No cost moves what was read, so that a change of costs begins after it.
            before = (plan.reading, plan.trailing, plan.money)
            rows = self._read_rows.get(
                (current.data, current.origin, *before), lambda: self._read_anew(tables, *before)
            )
            prepared = self._prepared.get(
                (current.data, current.origin, *phases), lambda: prepare_data(tables, *phases, rows)
            )
            return weigh(tables, plan, by, where=where, prepared=prepared)

    def _read_anew(self, tables: Tables, reading: Reading, trailing: Trailing, money: Money) -> ReadRows:
        """Rows read under another plan; what that does not move serves again."""
        before, self._read_last = self._read_last, None
        rows = read_rows(tables, reading, trailing, money, before)
        self._read_last = rows
        return rows

    def _read(self, current: Current) -> Tables:
        try:
            return self._snapshots.read(current)
        except PartsMissing:
            if self._mend is None:
                raise
            self._mend()
            return self._snapshots.read(current)

    def _chosen(self, question: BoardQuestion, result: Result) -> str:
        names = [y.name for y in result.plan.crediting.yardsticks]
        if question.yardstick and question.yardstick not in names:
            raise SettingsError(f"there is no yardstick {question.yardstick!r}; there are {', '.join(names)}")
        return question.yardstick or result.plan.usual_yardstick


def _asked(plan: Plan, question: BoardQuestion) -> Plan:
    """The plan with what the question changes."""
    reporting, windows = plan.reporting, plan.windows
    if question.report_from is not None:
        reporting = replace(reporting, report_from=question.report_from)
    if question.report_to is not None:
        reporting = replace(reporting, report_to=question.report_to)
    if question.panel:
        known = [yardstick.name for yardstick in plan.crediting.yardsticks]
        for name in question.panel:
            if name not in known:
                raise SettingsError(f"there is no yardstick {name!r}; there are {', '.join(known)}")
        reporting = replace(reporting, panel=question.panel)
    if reporting.report_from and reporting.report_to and reporting.report_from > reporting.report_to:
        raise SettingsError("the first day is after the last: swap them")
    goals = plan.goals
    if question.click_days is not None:
        goals = tuple(replace(goal, click_days=None) for goal in goals)
        of_goals = tuple(replace(w, click_days=None) for w in windows.goal_windows)
        windows = replace(
            windows, window=replace(windows.window, click_days=question.click_days), goal_windows=of_goals
        )
    return replace(plan, goals=goals, reporting=reporting, windows=windows)


def _no_row(table: str, id: str) -> str:
    return f"no accepted row of {table} has the id {id[:60]!r}: look for it in Gather"
