"""What is seen of a file that is being rehearsed: the file itself, and what stands of its source."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal
from typing import Any, BinaryIO

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.day_numbers import EPOCH
from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.formats.files.raw import USUAL, FileProblem, TableFile
from yardstick.formats.files.readers import layout_of
from yardstick.formats.rows.gist import DAY_US, Gist, worth
from yardstick.formats.rows.worth import MONEY
from yardstick.formats.sources.mapping import MappedFile, laid_of
from yardstick.formats.sources.questions.look import Look, look_at
from yardstick.formats.sources.sum_rows import Watched
from yardstick.store.snapshots import TableState

from ..workspace.desk import Desk
from .uploads import GivenFile, Meant

MOST_DAYS = 50


def look_of(
    desk: Desk, file: GivenFile, stream: BinaryIO, by: Meant, reader: TableFile, gist: Gist, state: TableState | None
) -> Look:
    """What is seen of a file under the reading that it has.

    Parameters
    ----------
    desk : the workspace
    file : with its reading
    stream : its bytes
    by : by what files are read
    reader : it, read to its end
    gist : what it comes to
    state : the rows of its table that stand
    """
    source = file.reading.source
    laid = laid_of(source) if source else USUAL
    above: Sequence[str] = ()
    if laid.skip_top:
        try:
            layout = layout_of(file.name, stream, laid.encoding)
            above = layout.above
        except FileProblem:
            above = ()
    out = look_at(file.name, stream, laid, above)
    home = by.plan.money.home_currency
    if isinstance(reader, MappedFile | Watched):
        out.sums = reader.sums
    # A sum of nothing says nothing of its currency.
    stated = source.currency if source else ""
    out.came = frozenset(code or stated or home for code, total in gist.money.items() if total)
    out.known = source is not None and any(fold(part.name) == fold(source.name) for part in by.parts)
    dated = {c.name for c in SCHEMA[file.table] if c.kind in (Kind.DAY, Kind.INSTANT)}
    out.bad_days = [cell for column, cell, _ in gist.bad if column in dated and cell][:MOST_DAYS]
    out.first_day, out.last_day = gist.first, gist.last
    out.today = desk.today(by.plan.reading.time_zone).toordinal() - EPOCH.toordinal()
    out.below, out.worth_below, out.line_below = gist.below, gist.worth_below, gist.line_below
    if out.known and source is not None and state is not None:
        _stood(out, desk, file.table, source.name, source.currency or home, state)
    return out


def _stood(out: Look, desk: Desk, table: str, source: str, usual: str, state: TableState) -> None:
    """Currencies, last day and mean cost of the rows that stand of a source."""
    mine = {load.load for load in desk.loads() if fold(load.source) == fold(source)}
    codes: set[str] = set()
    last: int | None = None
    total, rows = Decimal(0), 0
    dated = next((c for c in SCHEMA[table] if c.kind in (Kind.DAY, Kind.INSTANT)), None)
    start = 0
    for part in state.parts:
        stop = start + part.facts.rows
        counts = state.standing.counts[start:stop]
        start = stop
        if part.facts.load not in mine or not counts.any():
            continue
        there = part.rows.filter(pa.array(counts))
        if "currency" in there.column_names:
            codes |= {code or usual for code in pc.unique(there["currency"]).to_pylist()}
        if dated is not None:
            newest = int(np.asarray(there[dated.name]).max())
            newest = newest // DAY_US if dated.kind is Kind.INSTANT else newest
            last = newest if last is None else max(last, newest)
        if table in MONEY:
            names = [n for n in (MONEY[table], "clicks", "click_price") if n in there.column_names]
            amounts = worth(table, {n: _whole(there[n]) for n in names})
            total, rows = total + (pc.sum(amounts).as_py() or Decimal(0)), rows + len(there)
    out.before, out.stood = frozenset(codes), last
    out.usual = total / rows if rows else Decimal(0)


def _whole(column: Any) -> Any:
    return column.combine_chunks() if isinstance(column, pa.ChunkedArray) else column
