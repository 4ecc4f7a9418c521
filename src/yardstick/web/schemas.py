"""What goes over the wire. Money is whole minor units of the home currency, times are ISO 8601 in UTC."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel, ConfigDict


class _Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class Problem(_Out):
    """What went wrong, in words for a person: what happened, what was kept, what to do."""

    code: str
    message: str


class Health(_Out):
    """Whether the app and its database are well."""

    app: str
    python: str
    workspace: str
    database: str
    server: str = ""
    layout: str = ""


class RejectedOut(_Out):
    file: str
    line: int
    column: str
    value: str
    reason: str


class FindingOut(_Out):
    code: str
    level: str
    table: str
    id: str
    field: str
    value: str
    file: str
    line: int


class FileRehearsalOut(_Out):
    file: str
    table: str
    problem: str
    read: int
    new: int
    replaced: int
    unchanged: int
    rejected: int
    columns: list[str]
    extra: list[str]
    sample: list[list[str]]
    rejected_rows: list[RejectedOut]
    findings: list[FindingOut]


class RehearsalOut(_Out):
    token: str
    files: list[FileRehearsalOut]


class Keep(BaseModel):
    """Keep the files of a rehearsal."""

    token: str


class JobOut(_Out):
    id: int
    state: str
    doing: str
    rows_done: int
    rows_total: int
    message: str


class LoadOut(_Out):
    id: int
    subject: str
    file: str
    made_at: datetime
    read: int
    new: int
    replaced: int
    unchanged: int
    rejected: int
    undone: bool
    can_undo: bool


class Under(BaseModel):
    """The figures of a row under one yardstick. None = no figure."""

    leads: float
    good_leads: float
    sales: float
    value: int
    cost_per_lead: float | None
    cost_per_sale: float | None
    roas: float | None
    profit: int | None


class RowOut(BaseModel):
    """A row of the board: `called` is the name it is shown under, `found` whether Find finds it."""

    bucket: str
    name: str
    called: str
    found: bool
    touches: int | None
    spend: int | None
    clicks: int | None
    under: dict[str, Under]
    campaign: str = ""
    target_roas: float | None = None
    target_cost_per_lead: float | None = None


class PartOut(_Out):
    leads: int
    good_leads: int
    conversions: int
    value: int


class TieLineOut(_Out):
    booked: PartOut
    no_trail: PartOut
    named: dict[str, int]
    untagged: dict[str, int]
    invoiced: int
    matched: int
    unmatched: int
    quarantined_records: int
    quarantined_value: int


class SourceOut(BaseModel):
    name: str
    table: str
    zone: str
    other_zone: bool
    last_day: str | None
    missing: list[str]
    partial: bool


class BoardOut(BaseModel):
    """The ruler board."""

    by: str
    breakdowns: list[str]
    where: list[str]
    yardstick: str
    yardsticks: list[str]
    currency: str
    minor_digits: int
    time_zone: str
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
    rows: list[RowOut]
    total: RowOut
    ties: TieLineOut
    sources: list[SourceOut]
    findings: dict[str, int]
    rejected: int


class TouchOut(BaseModel):
    visit_id: str
    at: str
    kind: str
    campaign: str
    source: str
    medium: str
    channel: str
    why: str
    captured: bool
    here: bool
    share: float
    value: int
    file: str
    line: int


class ConversionOut(BaseModel):
    id: str
    table: str
    goal: str
    at: str
    value: int
    share_here: float
    value_here: int
    good: bool
    file: str
    line: int
    touches: list[TouchOut]


class SpendOut(BaseModel):
    day: str
    platform: str
    account: str
    campaign: str
    level: str
    original: str
    currency: str
    estimated: bool
    cost: int
    impressions: int
    clicks: int
    claimed_value: int
    file: str
    line: int


class OpeningOut(_Out):
    channel: str
    referrer_host: str
    landing_page: str
    touches: int
    share: float
    value: int


class TraceOut(BaseModel):
    """What a figure is made of; the totals are over all rows, the lists hold one page of them."""

    yardstick: str
    currency: str
    minor_digits: int
    time_zone: str
    fingerprint: str
    data: str
    share: float
    value: int
    spend: int
    conversion_count: int
    spend_count: int
    touch_count: int
    conversions: list[ConversionOut]
    spend_rows: list[SpendOut]
    touches: list[TouchOut]
    openings: list[OpeningOut]


Said = dict[int | str, dict[str, Any]]
PROBLEMS: Said = {code: {"model": Problem} for code in (404, 409, 422, 503)}
"""How every router answers when something is wrong."""
