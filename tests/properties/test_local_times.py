"""Times without an offset are the same however many stand together: columns go another way through the code than single
cells."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st

from yardstick.formats.files.raw import Header, RawBatch
from yardstick.formats.rows.columns import Typer

ZONES = ("UTC", "Australia/Adelaide", "Australia/Lord_Howe", "Europe/Dublin", "America/Sao_Paulo", "Asia/Kathmandu")
TIMES = st.datetimes(datetime(1960, 1, 1), datetime(2060, 1, 1)).map(
    lambda t: t.replace(microsecond=t.microsecond // 1000 * 1000, fold=0)
)
NEAR_A_CHANGE = st.integers(-180, 180).map(lambda m: datetime(2026, 4, 5, 2, 30) + timedelta(minutes=m))


def typed(cells, zone):
    typer = Typer(Header("visits", "v.csv", ("visit_id", "occurred_at", "url"), ()), zone)
    n = len(cells)
    columns = {"visit_id": [f"v{i}" for i in range(n)], "occurred_at": cells, "url": ["/"] * n}
    batch = typer.read(RawBatch({k: pa.array(v, pa.string()) for k, v in columns.items()}, np.arange(2, n + 2)))
    return batch.columns["occurred_at"].to_pylist(), {(f.code, f.value) for f in typer.findings}


@given(
    st.lists(st.one_of(TIMES, NEAR_A_CHANGE), min_size=1, max_size=12),
    st.sampled_from(ZONES),
    st.sampled_from(["T", " "]),
)
def test_a_column_of_local_times_is_what_each_of_them_is(times, zone, between):
    cells = [t.isoformat(between) for t in times]
    found, notes = typed(cells, zone)
    epoch, microsecond = datetime(1970, 1, 1, tzinfo=UTC), timedelta(microseconds=1)
    assert found == [(t.replace(tzinfo=ZoneInfo(zone)).astimezone(UTC) - epoch) // microsecond for t in times]
    assert found == [typed([cell], zone)[0][0] for cell in cells]
    assert ("no_offset", cells[0]) in notes
    alone = {note for cell in cells for note in typed([cell], zone)[1] if note[0] == "clock_change"}
    assert {code for code, _ in notes} - {"no_offset"} == {code for code, _ in alone}
