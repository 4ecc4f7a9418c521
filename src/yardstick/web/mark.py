"""Mark over HTTP."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Body, Request, Response, UploadFile
from pydantic import BaseModel, Field

from yardstick.core.base.errors import SettingsError
from yardstick.core.links.addresses import LinkFinding, is_of_this_machine, strip_tags
from yardstick.core.links.links import Link
from yardstick.core.links.messages import Message, count_message
from yardstick.core.links.patterns import Resolved
from yardstick.formats.results.qr_codes import QR_KINDS, qr_code
from yardstick.formats.results.sheets import KINDS, Kind
from yardstick.stations.mark import preview_patterns
from yardstick.stations.mark.edit_sheet import MOST_CHANGES, Sheet
from yardstick.stations.mark.overrides import Override, overrides
from yardstick.stations.mark.place_links import Landed, PlacedLink, why_withheld
from yardstick.stations.mark.preview_patterns import For, MailPreview, PatternChoices
from yardstick.stations.mark.visit_link import Visit
from yardstick.stations.plan.change_plan import PlanNow, read_plan
from yardstick.stations.weigh.record_tables import RecordTable
from yardstick.store.links import RowChange

from .exports import file_of, table_of
from .schemas import PROBLEMS
from .state import OpenWorkspace
from .trials import TrialOut, TriedState, trial_out

router = APIRouter(prefix="/mark", tags=["mark"], responses=PROBLEMS)
MOST_ADDRESSES = 20_000


class SheetChange(BaseModel):
    """What is to happen to rows of the sheet, as one change with one undo; `tried` as in the plan's edits."""

    basis: int
    changes: Annotated[list[RowChange], Field(max_length=MOST_CHANGES)]
    what: str
    tried: TriedState = ""


class MailAsked(BaseModel):
    """A mail to preview links of."""

    sender: str
    list: str = ""
    series: str = ""
    message: str = ""


class AdAsked(BaseModel):
    """An ad to open: whose pattern it has, and the address the platform gives for a click on it."""

    whose: For
    click: str


class PatternCell(BaseModel):
    """What one level is to say of one part of a pattern."""

    whose: For
    level: str
    field: Annotated[str, Field(min_length=1, max_length=200)]
    text: Annotated[str, Field(max_length=4_000)]
    basis: int


class Anew(BaseModel):
    """Links that were placed anew, by key of their rows, and the sheet they were seen on."""

    keys: Annotated[list[str], Field(max_length=20_000)]
    basis: int


class NameAsked(BaseModel):
    """A name to build: for which column, and the text of each part; # is the next number."""

    field: str
    parts: dict[str, str]


class Parameter(BaseModel):
    """One pair of a query, decoded."""

    name: str
    value: str


class ShortBase(BaseModel):
    """What short links begin with, and why they may not go out on paper; empty if they may."""

    base: str
    problem: str


class Checked(BaseModel):
    """One address after its check-up."""

    url: str
    base: str
    parameters: list[Parameter]
    findings: tuple[LinkFinding, ...]
    mended: str
    stripped: str


@router.get("/links")
def read(opened: OpenWorkspace) -> Sheet:
    """The link sheet."""
    return opened.sheets.read()


@router.patch("/links")
def change(opened: OpenWorkspace, wanted: SheetChange) -> Sheet:
    """Change rows; the answer holds only rows that look different now."""
    return opened.sheets.change(wanted.changes, wanted.basis, wanted.what, wanted.tried)


@router.post("/links/trial")
def attempt(opened: OpenWorkspace, wanted: SheetChange) -> TrialOut:
    """What a change of rows would move, nothing kept: a price of a link is a cost."""
    return trial_out(opened.sheets.attempt(opened.weighing, wanted.changes, wanted.basis, wanted.what))


@router.post("/links/anew")
def place_anew(opened: OpenWorkspace, wanted: Anew) -> Sheet:
    """Give links that went out the address that their rows make now; the answer holds only these rows."""
    return opened.sheets.place_anew(wanted.keys, wanted.basis)


@router.post("/links/undo")
def undo(opened: OpenWorkspace) -> Sheet:
    """Undo the latest change of the sheet."""
    return opened.sheets.undo()


@router.get("/links.{kind}", response_class=Response)
def file(opened: OpenWorkspace, kind: Kind) -> Response:
    """The sheet as a file."""
    return file_of(opened, f"links.{kind}", opened.sheets.file(kind), KINDS[kind])


@router.post("/links/file")
def ingest(opened: OpenWorkspace, file: UploadFile, tried: TriedState = "") -> Sheet:
    """Append the rows of a CSV or XLSX file, as one change."""
    return opened.sheets.ingest(file.filename or "file", file.file.read(), tried)


@router.post("/links/file/trial")
def attempt_file(opened: OpenWorkspace, file: UploadFile) -> TrialOut:
    """What the rows of a file would move, nothing kept."""
    return trial_out(opened.sheets.attempt_file(opened.weighing, file.filename or "file", file.file.read()))


@router.get("/placing")
def placing(opened: OpenWorkspace) -> list[PlacedLink]:
    """Every link with its place, its state and its arrivals."""
    return opened.placing.links()


@router.get("/placing.{kind}", response_class=Response)
def placing_file(opened: OpenWorkspace, kind: Kind) -> Response:
    """Every link with its place, its state and its arrivals as a file."""
    return file_of(opened, f"placing.{kind}", opened.placing.file(kind), KINDS[kind])


@router.post("/links/{key}/visit")
def test_visit(opened: OpenWorkspace, key: str) -> Visit:
    """Open a link over a real socket and compare what arrives with what was meant to."""
    return opened.placing.test_visit(key)


@router.get("/links/{key}/qr.{kind}", response_class=Response)
def qr(
    request: Request,
    opened: OpenWorkspace,
    key: str,
    kind: Literal["svg", "png"],
    error: Literal["l", "m", "q", "h"] = "m",
) -> Response:
    """The QR code of a link, of its short link where it has one."""
    row = opened.placing.row(key)
    code = row.cells.get("short", "")
    problem = why_not_printed(opened, request)
    if code and problem:
        raise SettingsError(problem)
    withheld = why_withheld(row.url, opened.desk.plan())
    if withheld:
        raise SettingsError(f"no code of this link: {withheld}")
    text = short_url(opened, request, code) if code else row.url
    return Response(qr_code(text, kind, error), media_type=QR_KINDS[kind])


@router.get("/short-base")
def short_base(opened: OpenWorkspace, request: Request) -> ShortBase:
    """What short links begin with."""
    return ShortBase(base=short_url(opened, request, ""), problem=why_not_printed(opened, request))


def why_not_printed(opened: OpenWorkspace, request: Request) -> str:
    """Why short links may not go out on paper; empty if they may."""
    host = request.url.hostname or ""
    if opened.desk.plan().linking.short_base or not is_of_this_machine(host):
        return ""
    return f"short links would lead to {host}, which nobody else can open: say in Plan what they begin with"


def short_url(opened: OpenWorkspace, request: Request, code: str) -> str:
    """A short link as people will type it."""
    base = opened.desk.plan().linking.short_base or f"{request.url.scheme}://{request.url.netloc}"
    return f"{base.rstrip('/')}/~/{code}"


@router.get("/patterns")
def pattern_choices(opened: OpenWorkspace) -> PatternChoices:
    """What patterns can be asked for."""
    return preview_patterns.choices(opened.desk.plan())


@router.get("/patterns/resolved")
def resolved_pattern(
    opened: OpenWorkspace,
    platform: str,
    campaign: str = "",
    group: str = "",
    ad: str = "",
    kind: str = "",
    landing: str = "",
) -> Resolved:
    """The pattern that holds for an ad, what each level says, and the level each part came from."""
    return preview_patterns.resolve(opened.desk.plan(), For(platform, campaign, group, ad, kind), landing)


@router.get("/patterns/overrides")
def pattern_overrides(opened: OpenWorkspace, platform: str) -> list[Override]:
    """What nearer levels of a platform say in place of its account, with what stands on it in money and arrivals."""
    return overrides(opened.weighing, opened.desk.plan(), platform)


@router.put("/patterns/cell")
def set_pattern_cell(opened: OpenWorkspace, wanted: PatternCell) -> PlanNow:
    """Say what one level says of one part of a pattern; the plan afterwards."""
    preview_patterns.set_cell(opened.desk, wanted.whose, wanted.level, wanted.field, wanted.text, wanted.basis)
    return read_plan(opened.desk)


@router.post("/names")
def build_name(opened: OpenWorkspace, asked: NameAsked) -> str:
    """A value for a column by its naming pattern, with the next running number."""
    return opened.sheets.build_name(asked.field, asked.parts)


@router.post("/landed")
def landed(opened: OpenWorkspace, url: Annotated[str, Body(embed=True, max_length=20_000)]) -> Landed:
    """The link that led to an address one landed at, compared with it field by field."""
    return opened.placing.landed(url)


@router.post("/patterns/visit")
def visit_ad(opened: OpenWorkspace, asked: AdAsked) -> Visit:
    """Open an ad as a person who clicks on it, and compare what arrives with what its pattern means."""
    plan, through = opened.desk.plan(), opened.placing.resolve
    return preview_patterns.visit_ad(plan, asked.whose, asked.click, through)


@router.post("/mail")
def mail_preview(opened: OpenWorkspace, asked: MailAsked) -> list[MailPreview]:
    """What a sender's mails make of links."""
    values = {"list": asked.list, "series": asked.series, "message": asked.message}
    return preview_patterns.preview_mail(opened.desk.plan(), asked.sender, values)


@router.post("/message")
def message(text: Annotated[str, Body(embed=True, max_length=10_000)]) -> Message:
    """How many parts a text message takes."""
    return count_message(text)


@router.post("/preview")
def preview(opened: OpenWorkspace, cells: Annotated[dict[str, str], Body()]) -> Link:
    """The address of a row that is being typed; nothing is kept."""
    return opened.sheets.preview(cells)


@router.post("/check-up")
def check_up(
    opened: OpenWorkspace,
    urls: Annotated[list[str], Body(max_length=MOST_ADDRESSES, embed=True)],
    pattern: Annotated[bool, Body(embed=True)] = False,
) -> list[Checked]:
    """Check addresses against the plan; nothing is kept. The slots of patterns are left alone."""
    marks = opened.desk.plan().reading.click_marks
    return [
        Checked(
            url=c.url,
            base=c.base,
            parameters=[Parameter(name=name, value=value) for name, value in c.parameters],
            findings=c.findings,
            mended=c.mended,
            stripped=strip_tags(c.mended, marks),
        )
        for c in opened.sheets.check_up([url.strip() for url in urls if url.strip()], pattern=pattern)
    ]


@router.post("/check-up.{kind}", response_class=Response)
def check_up_file(
    opened: OpenWorkspace,
    kind: Kind,
    urls: Annotated[list[str], Body(max_length=MOST_ADDRESSES, embed=True)],
    pattern: Annotated[bool, Body(embed=True)] = False,
) -> Response:
    """Check addresses, and give what was found as a file: an address a line."""
    columns = ["address", "level", "mended", "base", "without_tags", "findings"]
    lines = [
        [
            *(c.url, c.findings[0].level if c.findings else "well", c.mended, c.base, c.stripped),
            "; ".join(f.message for f in c.findings),
        ]
        for c in check_up(opened, urls, pattern)
    ]
    return table_of(opened, "check-up", RecordTable(columns, lines, frozenset()), kind)
