"""What would mend cells that could not be read: for each column the one change of its source that mends most."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from yardstick.core.base.schema import SCHEMA, VISIT_KINDS, Kind
from yardstick.core.plan.gathering_phase import DATE_ORDERS, Source

from ..cells.cells import BadCell, readers
from ..cells.contents import NOTHING, signs_of
from ..cells.dates_in import iso_of
from ..cells.numbers_in import number_of
from .mapping import NUMBERS

DATES = (Kind.DAY, Kind.INSTANT, Kind.MONTH)
EXAMPLES = 3


@dataclass(frozen=True)
class Mend:
    """What would mend cells of one column.

    Attributes
    ----------
    column : of the table
    reason : why the cells cannot be read
    cells : how many there are
    line : the first line with one
    examples : some of them, as they came
    text : what would mend them, empty where nothing is known to
    change : what of the source has to be what
    mends : how many cells it mends
    """

    column: str
    reason: str
    cells: int
    line: int
    examples: list[str]
    text: str
    change: dict[str, Any]
    mends: int


def mends_for(
    source: Source, bad: Mapping[tuple[str, str, str], int], lines: Mapping[tuple[str, str, str], int]
) -> list[Mend]:
    """For each column with cells that cannot be read the change that mends most, those with most cells first.

    Parameters
    ----------
    source : by which the file is read
    bad : (column, cell, reason) -> how many rows
    lines : the first line of each
    """
    kinds = {c.name: c.kind for c in SCHEMA[source.table]}
    by_column: dict[str, Counter[str]] = defaultdict(Counter)
    reasons: dict[str, Counter[str]] = defaultdict(Counter)
    first: dict[str, int] = {}
    for (column, cell, reason), count in bad.items():
        by_column[column][cell] += count
        reasons[column][reason] += count
        line = lines.get((column, cell, reason), 0)
        first[column] = min(first.get(column, line), line)
    out = []
    for column, cells in by_column.items():
        best: tuple[int, str, dict[str, Any]] = (0, "", {})
        for text, change, mended in _candidates(source, column, kinds.get(column), list(cells)):
            count = sum(cells[cell] for cell in mended)
            if count > best[0]:
                best = (count, text, change)
        reason = reasons[column].most_common(1)[0][0]
        if not column and reason.startswith("not UTF-8") and not source.encoding:
            best = (cells.total(), "read the file as windows-1252", {"encoding": "windows-1252"})
        shown = [cell for cell, _ in cells.most_common(EXAMPLES)]
        out.append(Mend(column, reason, cells.total(), first[column], shown, best[1], best[2], best[0]))
    return sorted(out, key=lambda m: -m.cells)


_Candidate = tuple[str, dict[str, Any], Sequence[str]]


def _candidates(source: Source, column: str, kind: Kind | None, cells: Sequence[str]) -> Iterator[_Candidate]:
    if kind is None:
        return
    words = [cell for cell in cells if cell.strip() and cell.strip().lower() in NOTHING]
    required = any(c.name == column and c.required for c in SCHEMA[source.table])
    if words and not (required and column not in dict(source.constant)):
        said = ", ".join(sorted(set(words)))
        yield f"read {said} as an empty cell", {"nothing": sorted({*source.nothing, *words})}, words
    if kind in DATES:
        yield from _dates(source, kind, cells)
    if kind in NUMBERS:
        yield from _numbers(source, kind, cells)
    if kind is Kind.VISIT_KIND:
        word = cells[0]
        replace = [{"column": r.column, "from": r.old, "to": r.new} for r in source.replace]
        change = {"replace": [*replace, {"column": column, "from": word, "to": VISIT_KINDS[0]}]}
        yield f"read {word} as {VISIT_KINDS[0]}", change, [word]
    if kind is Kind.ADDRESS and not source.url_host:
        bare = [cell for cell in cells if "://" not in cell and "." in cell.split("/")[0]]
        if bare:
            yield "put https:// before addresses without a scheme", {"url_host": bare[0].split("/")[0]}, bare
    if kind is Kind.CURRENCY and not required:
        nothing = sorted({*source.nothing, *cells[:20]})
        said = ", ".join(cells[:EXAMPLES])
        yield f"leave {said} out; the source's currency stands there", {"nothing": nothing}, cells[:20]


def _dates(source: Source, kind: Kind, cells: Sequence[str]) -> Iterator[_Candidate]:
    for order in DATE_ORDERS:
        if order != source.date:
            yield f"read days as {order}", {"date": order}, [c for c in cells if c and iso_of(c.strip(), order)]
    if not source.total:
        words = [cell for cell in cells if cell.strip() and not any(c.isdigit() for c in cell)]
        for word in words[:3]:
            mended = [cell for cell in cells if cell.strip().lower().startswith(word.strip().lower())]
            yield f"take rows that begin with {word.strip()} as sums, not rows", {"total": word.strip()}, mended


def _numbers(source: Source, kind: Kind, cells: Sequence[str]) -> Iterator[_Candidate]:
    read = readers("UTC", lambda code, text: None)[kind]
    found = signs_of(cells)
    ways = [
        (source.decimal, source.thousands, True),
        (found.decimal, found.thousands, source.currency_signs),
        (found.decimal, found.thousands, True),
        (",", "", source.currency_signs),
        (".", "", source.currency_signs),
        (",", ".", True),
        (".", ",", True),
    ]
    for decimal, thousands, signs in ways:
        if (decimal, thousands, signs) == (source.decimal, source.thousands, source.currency_signs):
            continue
        mended = [cell for cell in cells if _is_read(cell, decimal, thousands, signs, source.currency, read)]
        change: dict[str, Any] = {}
        said = []
        if decimal != source.decimal:
            change["decimal"] = decimal
            said.append(f"take {decimal} as the sign before decimals")
        if thousands != source.thousands:
            change["thousands"] = thousands
            said.append(
                f"take {thousands} as the sign between thousands" if thousands else "take no sign for thousands"
            )
        if signs and not source.currency_signs:
            change["currency_signs"] = True
            said.append("drop signs of currency")
        yield " and ".join(said), change, mended


def _is_read(cell: str, decimal: str, thousands: str, signs: bool, currency: str, read: Any) -> bool:
    number = number_of(cell.strip(), decimal, thousands, signs, currency) if cell.strip() else None
    if number is None:
        return False
    try:
        read(number)
    except BadCell:
        return False
    return True
