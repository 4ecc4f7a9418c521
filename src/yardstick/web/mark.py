"""Mark over HTTP."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Body, Response, UploadFile
from pydantic import BaseModel, Field

from yardstick.core.addresses import LinkFinding, strip_tags
from yardstick.core.links import Link
from yardstick.formats.sheets import KINDS
from yardstick.stations.mark import MOST_CHANGES, Sheet
from yardstick.store.links import RowChange

from .schemas import PROBLEMS
from .state import AtHand

router = APIRouter(prefix="/api/mark", tags=["mark"], responses=PROBLEMS)
MOST_ADDRESSES = 20_000


class SheetChange(BaseModel):
    """What is to happen to rows of the sheet, as one change with one undo."""

    basis: int
    changes: Annotated[list[RowChange], Field(max_length=MOST_CHANGES)]
    what: str


class Parameter(BaseModel):
    """One pair of a query, decoded."""

    name: str
    value: str


class Checked(BaseModel):
    """One address after its check-up."""

    url: str
    base: str
    parameters: list[Parameter]
    findings: tuple[LinkFinding, ...]
    mended: str
    stripped: str


@router.get("/links")
def read(at_hand: AtHand) -> Sheet:
    """The link sheet."""
    return at_hand.sheets.read()


@router.patch("/links")
def change(at_hand: AtHand, wanted: SheetChange) -> Sheet:
    """Change rows; the answer holds only rows that look different now."""
    return at_hand.sheets.change(wanted.changes, wanted.basis, wanted.what)


@router.post("/links/undo")
def undo(at_hand: AtHand) -> Sheet:
    """Undo the latest change of the sheet."""
    return at_hand.sheets.undo()


@router.get("/links.{kind}", response_class=Response)
def file(at_hand: AtHand, kind: Literal["csv", "xlsx"]) -> Response:
    """The sheet as a file."""
    head = {"Content-Disposition": f'attachment; filename="links.{kind}"'}
    return Response(at_hand.sheets.file(kind), media_type=KINDS[kind], headers=head)


@router.post("/links/file")
def take_in(at_hand: AtHand, file: UploadFile) -> Sheet:
    """Append the rows of a CSV or XLSX file, as one change."""
    return at_hand.sheets.take_in(file.filename or "file", file.file.read())


@router.post("/preview")
def preview(at_hand: AtHand, cells: Annotated[dict[str, str], Body()]) -> Link:
    """The address of a row that is being typed; nothing is kept."""
    return at_hand.sheets.preview(cells)


@router.post("/check-up")
def check_up(at_hand: AtHand, urls: Annotated[list[str], Body(max_length=MOST_ADDRESSES, embed=True)]) -> list[Checked]:
    """Check addresses against the plan; nothing is kept."""
    marks = at_hand.desk.settings().click_marks
    return [
        Checked(
            url=c.url,
            base=c.base,
            parameters=[Parameter(name=name, value=value) for name, value in c.parameters],
            findings=c.findings,
            mended=c.mended,
            stripped=strip_tags(c.mended, marks),
        )
        for c in at_hand.sheets.check_up([url.strip() for url in urls if url.strip()])
    ]
