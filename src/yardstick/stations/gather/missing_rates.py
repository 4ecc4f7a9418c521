"""Money without an exchange rate: reported before it is kept, since it would be in no figure (R20)."""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from decimal import Decimal
from pathlib import Path
from typing import Any

import pyarrow as pa

from yardstick.core.base.day_numbers import day_text
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.files.readers import holds_rows
from yardstick.formats.rows.columns import TypedBatch
from yardstick.formats.rows.gist import Gist
from yardstick.formats.rows.intake import ingest
from yardstick.formats.rows.keyed import Keys
from yardstick.formats.sources.sourcing import open_by

from ..workspace.desk import Desk
from .uploads import Meant
from .waiting_files import reading_of, uploaded

Days = dict[str, list[int]]


def without_rate(desk: Desk, by: Meant, gist: Gist, folder: Path) -> list[str]:
    """Sums of a file for which there is no rate, neither among the rows that stand nor in a file beside it.

    Parameters
    ----------
    desk : the workspace
    by : by what files are read
    gist : what the file comes to
    folder : of its rehearsal
    """
    home = by.plan.money.home_currency
    foreign = {key: total for key, total in gist.by_day.items() if key[0] != home and total}
    if not foreign:
        return []
    there = _rates(desk, by, folder, home)
    lacking: dict[str, list[tuple[int, Decimal]]] = defaultdict(list)
    for (code, day), total in foreign.items():
        days = there.get(code, [])
        at = bisect_right(days, day) - 1
        if at < 0 or day - days[at] > by.plan.money.rate_days:
            lacking[code].append((day, total))
    out = []
    for code, found in sorted(lacking.items()):
        days = sorted(day for day, _ in found)
        span = day_text(days[0]) if len(days) == 1 else f"{day_text(days[0])} to {day_text(days[-1])}"
        total = sum((amount for _, amount in found), Decimal(0))
        said = f"{total.normalize():,f} {code} of {len(days):,} {'day' if len(days) == 1 else 'days'} ({span})"
        out.append(f"{said} have no rate to {home}: they would be in no figure until rates are loaded")
    return out


def _rates(desk: Desk, by: Meant, folder: Path, home: str) -> Days:
    """Days of rates into the home currency, by currency."""
    found: dict[str, set[int]] = defaultdict(set)
    state = desk.states().get("rates")
    start = 0
    for part in state.parts if state is not None else ():
        stop = start + part.facts.rows
        rows = part.rows.filter(pa.array(state.standing.counts[start:stop])) if state is not None else part.rows
        start = stop
        _add(found, rows, home)

    def each(batch: TypedBatch, _: Keys) -> None:
        _add(found, batch.columns, home)

    for name, path in uploaded(folder):
        if not holds_rows(name):
            continue
        try:
            with path.open("rb") as stream:
                source = reading_of(path).source
                reader = open_by(name, stream, source)
                if reader.header.table == "rates":
                    ingest(reader, by.zone(source), lambda rows, done: None, each)
        except FileProblem:
            continue
    return {code: sorted(days) for code, days in found.items()}


def _add(found: dict[str, set[int]], rows: Any, home: str) -> None:
    columns = [rows[name].to_pylist() for name in ("base", "quote", "day")]
    for base, quote, day in zip(*columns, strict=True):
        if quote == home:
            found[base].add(day)
