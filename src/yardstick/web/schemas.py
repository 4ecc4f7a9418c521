"""What goes over the wire. Money is whole minor units of the home currency, times are ISO 8601 in UTC."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

from fastapi import Path
from pydantic import BaseModel

from yardstick.core.costs.freshness import SourceFreshness
from yardstick.core.report.find_records import FoundRecord
from yardstick.core.report.person_seen import PersonPage
from yardstick.core.report.recorded import RecordPage
from yardstick.core.report.summary import TieLine
from yardstick.core.report.traced import Trace
from yardstick.core.report.unrated import WithoutRate
from yardstick.core.report.verdicts import VerdictCode
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.stations.weigh.board_columns import Kind
from yardstick.stations.weigh.findings import Place
from yardstick.store.states import LoadCame

Id = Annotated[int, Path(ge=1, le=2**63 - 1)]
"""The number of something in the database."""


class Problem(BaseModel):
    """What went wrong, in words for a person: what happened, what was kept, what to do."""

    code: str
    message: str


class Health(BaseModel):
    """Whether the app and its database are well; `behind` says by workspace why its figures are not those of what was
    kept."""

    app: str
    python: str
    workspaces: list[str]
    behind: dict[str, str]
    database: str
    server: str = ""
    layout: str = ""


class Keep(BaseModel):
    """Keep the files of a rehearsal."""

    token: str


class ReadOtherwise(BaseModel):
    """Read a file of a rehearsal in another way: `reading` says how; without it `called` names a source, or a table to
    guess under; with neither it is guessed anew. `answers` are to its questions, by what they are about."""

    file: str
    reading: SourcePart | None = None
    called: str = ""
    answers: dict[str, str] = {}


class TypedInvoice(BaseModel):
    """What an invoice says: a decimal amount, and its currency, empty for the home currency."""

    amount: str
    currency: str = ""


class ColumnOut(BaseModel):
    """A figure the board can show: its head, what it is (see `board_columns.Kind`), the figure its trace is asked for,
    and why it may be missing."""

    name: str
    title: str
    kind: Kind
    traced: str
    none: str


class AdsOut(BaseModel):
    """What the ads alone earned in a row that is no campaign's: value in minor units, and leads."""

    value: int
    leads: float


class RowOut(BaseModel):
    """A row of the board: `called` is the name it is shown under, `found` whether Find finds it."""

    bucket: str
    name: str
    values: list[str]
    called: str
    found: bool
    touches: int | None
    spend: int | None
    clicks: int | None
    ads: dict[str, AdsOut]
    under: dict[str, dict[str, float | int | None]]
    campaign: str = ""
    target_roas: float | None = None
    target_cost_per_lead: float | None = None


class BoardOut(BaseModel):
    """The ruler board; `behind` says why it is not of what was kept last, and is empty where it is."""

    behind: str
    by: str
    judged: bool
    breakdowns: list[str]
    columns: list[ColumnOut]
    column_sets: dict[str, list[str]]
    shown_columns: list[str]
    operators: list[str]
    where: list[str]
    yardstick: str
    yardsticks: list[str]
    panel: list[str]
    currency: str
    minor_digits: int
    time_zone: str
    date_basis: str
    report_from: str | None
    report_to: str | None
    first_day: str
    last_day: str
    click_days: float
    own_windows: bool
    margin: float
    break_even_roas: float
    target_roas: float | None
    target_cost_per_lead: float | None
    fingerprint: str
    data: str
    origin: str
    rows: list[RowOut]
    total: RowOut
    ads_only: RowOut
    ties: TieLine
    sources: list[SourceFreshness]
    findings: dict[str, int]
    rejected: int
    without_rate: list[WithoutRate]
    without_event: int
    nearest: dict[str, list[str]]


class FindingOut(BaseModel):
    """A finding: where it stands, what it says, and the amount it names in minor units of the home currency."""

    table: str
    id: str
    field: str
    value: str
    amount: int | None
    file: str
    line: int


class FindingGroupOut(BaseModel):
    """The findings of one kind: what it is, what it does and what mends it, by which rule, at which station; how many,
    and what they add up to in minor units of the home currency."""

    code: str
    words: str
    about: str
    rule: str
    place: Place
    count: int
    amount: int


class FindingsOut(BaseModel):
    """The findings of a board, and a page of the rows of the kind asked for; `found` is how many have the text that is
    looked for."""

    fingerprint: str
    currency: str
    minor_digits: int
    groups: list[FindingGroupOut]
    code: str
    found: int
    rows: list[FindingOut]


class RangeOut(BaseModel):
    """A 90 % interval; None = no figure, or a bound that is infinite."""

    low: float | None
    high: float | None


class VerdictOut(BaseModel):
    """What is said of a row for one kind of goal, why, and what that depends on (R25, R34).

    In how many of the redraws of the people it pays and loses, the yardstick that flips it, the cost per click up to
    which it pays, and about how many conversions would settle it (`none`: no number of them)."""

    code: VerdictCode
    reason: str
    pays: int | None
    loses: int | None
    flips_under: str
    pays_up_to_click: float | None
    conversions_needed: str


class CertainOut(BaseModel):
    """How sure the figures of one row are: by yardstick and figure an interval of what the ruler draws, by kind of goal
    a verdict and the share of its conversions that has come (None = it cannot be told)."""

    bucket: str
    values: list[str]
    intervals: dict[str, dict[str, RangeOut]]
    verdicts: dict[str, VerdictOut]
    come: dict[str, float | None]


class CertaintyOut(BaseModel):
    """How sure the figures of a board are."""

    fingerprint: str
    panel: list[str]
    mature_share: float
    come: dict[str, float | None]
    rows: list[CertainOut]


@dataclass(frozen=True, kw_only=True)
class TraceOut(Trace):
    """A trace, with what it was asked of."""

    yardstick: str
    currency: str
    minor_digits: int
    time_zone: str
    fingerprint: str
    data: str
    origin: str


@dataclass(frozen=True, kw_only=True)
class RecordOut(RecordPage):
    """The page of a record, with what it was looked at by: `yardstick` is the chosen one, `panel` what is shown;
    `loads` says when the loads came that its rows are of."""

    yardstick: str
    panel: tuple[str, ...]
    loads: dict[int, LoadCame]
    currency: str
    minor_digits: int
    time_zone: str
    fingerprint: str


@dataclass(frozen=True, kw_only=True)
class PersonOut(PersonPage):
    """The page of a person, with what its values and times are in."""

    currency: str
    minor_digits: int
    time_zone: str


class FoundOut(BaseModel):
    """Records by a text: the first of them, and how many there are."""

    records: list[FoundRecord]
    number: int


PROBLEMS: dict[int | str, dict[str, Any]] = {code: {"model": Problem} for code in (400, 404, 409, 413, 422, 503, 507)}
"""How every router answers when something is wrong."""
