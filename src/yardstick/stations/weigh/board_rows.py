"""The rows of a board as they are shown: names, order and what Find finds, made once for screen and file alike."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.report_fields import CONVERSION_FIELDS
from yardstick.core.base.words import collapse, fold
from yardstick.core.reading.tags import EXTRA
from yardstick.core.report.breakdown import LEFT_OUT, NAMED, NO_TRAIL, NO_VALUE, UNDIVIDED, UNTAGGED
from yardstick.core.report.figures import Figures, Sums
from yardstick.core.report.totals import Ads
from yardstick.core.report.verdicts import VerdictCode

from .board_columns import COLUMNS, Value

NAMES = {
    UNTAGGED: "Untagged",
    NO_TRAIL: "No trail",
    LEFT_OUT: "Outside the filter",
    UNDIVIDED: "Cannot be split",
}
"""What a row is called that has no value of its own."""
SORTS = ("name", *COLUMNS, "verdict")
VERDICT_WORDS = {
    VerdictCode.GROW: "grow",
    VerdictCode.KEEP: "keep",
    VerdictCode.UNSURE: "unsure",
    VerdictCode.DEPENDS: "depends on the yardstick",
    VerdictCode.EARLY: "too early to tell",
    VerdictCode.FEW: "too few to tell",
    VerdictCode.CUT: "cut",
}
"""Verdicts as they are shown, from good to bad."""
Verdicts = Mapping[tuple[str, tuple[str, ...]], VerdictCode]
"""What is said of campaigns, by bucket and values."""


@dataclass(frozen=True)
class BoardRow:
    """A row of the board: one place with its figures under every yardstick.

    Attributes
    ----------
    bucket, values : the place
    called : the name it is shown and found under
    touches, spend, clicks : the same under every yardstick
    under : sums and figures by yardstick
    ads : by yardstick what the ads alone earned, in rows by anything but the campaign
    """

    bucket: str
    values: tuple[str, ...]
    called: str
    touches: int | None
    spend: int | None
    clicks: int | None
    under: dict[str, tuple[Sums, Figures]]
    ads: dict[str, Ads]


@dataclass(frozen=True)
class Wanted:
    """How rows are to be shown.

    Attributes
    ----------
    sort : one of `SORTS`
    descending : which way
    find : only rows whose name holds this text, whatever the case
    verdict : only campaigns of which this is said; None = all rows
    measure : whether verdicts are those on `value` or on `leads`
    rulers_only : send the figures under the chosen yardstick and the panel alone, and of the latter what rulers need
    columns : names of columns, or of sets of them; none = money
    """

    sort: str = "spend"
    descending: bool = True
    find: str = ""
    verdict: VerdictCode | None = None
    measure: str = "value"
    rulers_only: bool = False
    columns: tuple[str, ...] = ()

    @property
    def asks_for_verdicts(self) -> bool:
        """Whether verdicts are needed to show it."""
        return bool(self.verdict) or self.sort == "verdict"


def name_of(bucket: str, values: Sequence[str], by: Sequence[str] = ("campaign",)) -> str:
    """The name a row is shown under, of two fields both.

    Parameters
    ----------
    bucket, values : its place
    by : the fields of the breakdown
    """
    called = _first_name(bucket, values, by[0])
    if len(by) == 1 or bucket in (NO_TRAIL, LEFT_OUT):
        return called
    return f"{called} / {_second_name(values, by[1])}"


def name_cells(row: BoardRow, by: Sequence[str]) -> list[str]:
    """What a row is called, a cell for each field."""
    return [_first_name(row.bucket, row.values, by[0]), *row.values[1:], *[""] * (len(by) - max(1, len(row.values)))]


def _first_name(bucket: str, values: Sequence[str], field: str) -> str:
    if bucket == NO_VALUE:
        # What a conversion carries depends on no tag.
        called = field.removeprefix(EXTRA).replace("_", " ")
        return f"No {called}" if field in CONVERSION_FIELDS else f"Tagged, no {called}"
    value = values[0] if values else ""
    if bucket == UNDIVIDED and value:
        return f"{value}, cannot be split"
    return NAMES.get(bucket, value)


def _second_name(values: Sequence[str], field: str) -> str:
    return values[1] or f"no {field.removeprefix(EXTRA).replace('_', ' ')}"


def is_found(row: BoardRow, wanted: Wanted, verdicts: Verdicts) -> bool:
    """Whether a row is among those that are wanted: Find goes by the name it is shown under, as values are compared."""
    if wanted.verdict and verdicts.get((row.bucket, row.values)) != wanted.verdict:
        return False
    return fold(collapse(wanted.find)) in fold(row.called)


def nearest(text: str, called: Mapping[str, str], limit: int = 3) -> list[str]:
    """Names that are nearest to a text.

    Parameters
    ----------
    text : what was asked for
    called : folded name, code or the like -> the name it is shown under
    limit : how many at most
    """
    # Loaded where it is needed: the app starts without it.
    from rapidfuzz import fuzz, process

    found = process.extract(fold(text), list(called), scorer=fuzz.WRatio, limit=limit, score_cutoff=50)
    return list(dict.fromkeys(called[key] for key, _, _ in found))


def in_order(rows: Sequence[BoardRow], yardstick: str, wanted: Wanted, verdicts: Verdicts) -> list[BoardRow]:
    """Rows as the board shows them: campaigns in the order asked for, then the rows that are none.

    Parameters
    ----------
    rows : all of them
    yardstick : under which figures are compared
    wanted : the order; `find` leaves nothing out here
    verdicts : needed to sort by them

    Raises
    ------
    SettingsError
        If the board cannot be sorted by that.
    """
    if wanted.sort not in SORTS:
        raise SettingsError(f"cannot sort by {wanted.sort!r}; columns are {', '.join(SORTS)}")
    named = [r for r in rows if r.bucket == NAMED]
    rest = [r for r in rows if r.bucket != NAMED]
    if wanted.sort == "name":
        named.sort(key=lambda r: (fold(r.called), r.called), reverse=wanted.descending)
        return named + rest
    if wanted.sort == "verdict":
        judged = [r for r in named if (r.bucket, r.values) in verdicts]
        order = list(VERDICT_WORDS)
        judged.sort(key=lambda r: order.index(verdicts[r.bucket, r.values]), reverse=not wanted.descending)
        return judged + [r for r in named if (r.bucket, r.values) not in verdicts] + rest
    # Rows without the figure stand last whichever way the sort goes.
    known = [(figure, r) for r in named if (figure := _figure(r, yardstick, wanted.sort)) is not None]
    unknown = [r for r in named if _figure(r, yardstick, wanted.sort) is None]
    known.sort(key=lambda pair: pair[0], reverse=wanted.descending)
    return [r for _, r in known] + unknown + rest


def _figure(row: BoardRow, yardstick: str, sort: str) -> Value:
    return COLUMNS[sort].of(*row.under[yardstick])
