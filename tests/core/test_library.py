"""The library: the same figures from tables of pandas, Polars, DuckDB and PyArrow as from files."""

from __future__ import annotations

import csv
import os
import re
from datetime import UTC, date, datetime
from decimal import Decimal
from pathlib import Path
from typing import Any

import duckdb
import pandas as pd
import polars as pl
import pyarrow as pa
import pytest

import yardstick
from yardstick.core.base.errors import SettingsError
from yardstick.core.report.breakdown import BY_CAMPAIGN
from yardstick.formats.files.raw import FileProblem
from yardstick.stations.command.weigh_folder import credit_folder

WEEK = Path(yardstick.__file__).parent / "demo" / "worked_week"
NOTEBOOK = Path(__file__).parents[2] / "docs" / "notebook.md"
TABLES = ("visits", "leads", "conversions", "spend", "rates")


def of_duckdb(path):
    return duckdb.sql(f"SELECT * FROM read_csv('{path}', all_varchar = true)")


READ = {
    "pandas": lambda path: pd.read_csv(path, dtype=str),
    "polars": lambda path: pl.read_csv(path, infer_schema=False),
    "duckdb": of_duckdb,
    "pyarrow": lambda path: pa.Table.from_pandas(pd.read_csv(path, dtype=str)),
}


@pytest.mark.parametrize("kind", READ)
def test_tables_of_every_kind_give_what_the_files_give(kind, tmp_path):
    wanted = credit_folder(WEEK, tmp_path, WEEK / "settings.toml", BY_CAMPAIGN, certainty=True).result
    given = {name: READ[kind](WEEK / f"{name}.csv") for name in TABLES}
    result = yardstick.weigh(**given, settings=WEEK / "settings.toml", certainty=True)
    assert result.fingerprint == wanted.fingerprint
    for name, table in (
        ("result", result.table()),
        ("credits", result.credits()),
        ("verdicts", result.verdicts()),
        ("intervals", result.intervals()),
    ):
        with (tmp_path / f"{name}.csv").open(newline="") as file:
            header, *rows = csv.reader(file)
        assert table.column_names == header
        assert table.num_rows == len(rows)
        for column in ("value", "campaign", "verdict"):
            if column in header:
                shown = ["" if v is None else str(v) for v in table.column(column).to_pylist()]
                assert shown == [row[header.index(column)] for row in rows]
    assert pa.types.is_decimal(result.table().schema.field("value").type)
    assert result.rejected().num_rows == 3
    assert result.summary["totals"]["booked"]["value"] == "452.57"
    assert "Spring Whale Boats" in repr(result)


def test_typed_columns_are_taken_as_they_are():
    visits = pa.table(
        {
            "visit_id": pa.array(["a", "b"]).dictionary_encode(),
            "occurred_at": pa.array([datetime(2026, 4, 1, 10, tzinfo=UTC), datetime(2026, 4, 1, 11, tzinfo=UTC)]),
            "visitor_id": pa.array([7, None], pa.int64()),
            "url": ["/?utm_source=zeta&utm_medium=cpc&utm_campaign=A", "/"],
            "is_test": [False, True],
        }
    )
    orders = pl.DataFrame(
        {
            "conversion_id": ["c"],
            "occurred_at": [datetime(2026, 4, 2, 10)],
            "goal": ["sale"],
            "visitor_id": [7],
            "total": [Decimal("90.10")],
        }
    )
    spend = pd.DataFrame(
        {
            "day": [date(2026, 4, 1), date(2026, 4, 2)],
            "platform": "Zeta",
            "campaign": "A",
            "cost": ["12.50", "1"],
            "clicks": [8, None],
        }
    )
    assert spend["clicks"].dtype == float
    result = yardstick.weigh(visits=visits, conversions=orders, spend=spend)
    row = next(r for r in result.table().to_pylist() if r["yardstick"] == "linear" and r["campaign"] == "A")
    assert (row["value"], row["spend"], row["clicks"], row["touches"]) == (Decimal("90.10"), Decimal("13.50"), 8, 1)
    assert result.summary["totals"]["quarantined_records"] == 1


VISITS = pa.table({"visit_id": ["a"], "occurred_at": ["2026-04-01T10:00:00Z"], "url": ["/"]})


@pytest.mark.parametrize(
    ("asked", "said"),
    [
        ({}, "visits are required"),
        ({"visits": [1, 2]}, "list is no table"),
        ({"visits": VISITS.drop_columns(["url"])}, "required column url"),
        ({"visits": VISITS.append_column("visitor_id", pa.array([7.5]))}, "visitor_id holds binary floats.*Int64"),
        ({"visits": VISITS.append_column("email", pa.array([["a", "b"]]))}, "email holds list"),
        (
            {
                "visits": VISITS,
                "spend": pa.table({"day": ["2026-04-01"], "platform": ["Z"], "campaign": ["A"], "cost": [12.1]}),
            },
            "spend: the column cost holds binary floats.*'12.50'",
        ),
    ],
)
def test_what_cannot_be_read_exactly_is_refused_in_words(asked, said):
    with pytest.raises(FileProblem, match=said):
        yardstick.weigh(**asked)


def test_wrong_words_are_named():
    with pytest.raises(SettingsError, match="no table 'orders'"):
        yardstick.weigh(visits=VISITS, orders=VISITS)
    with pytest.raises(SettingsError, match="colour"):
        yardstick.weigh(visits=VISITS, by="colour")
    with pytest.raises(ValueError, match="certainty=True"):
        yardstick.weigh(visits=VISITS).verdicts()
    with pytest.raises(AttributeError, match="weight"):
        yardstick.weight  # noqa: B018


def test_a_bad_row_is_rejected_with_its_number():
    rows = pa.concat_tables([VISITS, VISITS.set_column(1, "occurred_at", pa.array(["soon"]))])
    (one,) = yardstick.weigh(visits=rows).rejected().to_pylist()
    assert (one["file"], one["line"], one["column"], one["value"]) == ("visits", 2, "occurred_at", "soon")


def test_the_ten_lines_of_the_notebook_run(monkeypatch):
    """The code of docs/notebook.md, as it stands there, in the folder of the worked week."""
    (code,) = re.findall(r"```python\n(.*?)```", NOTEBOOK.read_text(), re.DOTALL)
    monkeypatch.chdir(WEEK)
    names: dict[str, Any] = {}
    exec(compile(code, os.fspath(NOTEBOOK), "exec"), names)
    result = names["result"]
    assert result.fingerprint in repr(result)
    assert "removal" in set(result.table().to_pandas()["yardstick"])
