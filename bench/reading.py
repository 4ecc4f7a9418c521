"""Reading files: CSV, JSON Lines, Parquet and XLSX of visits, and the same rows as an export that a source reads, beside
Polars reading and casting the same file. CPU seconds per million rows; ratios of one run."""

from __future__ import annotations

import io
import json
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import openpyxl
import polars as pl
import pyarrow as pa
import pyarrow.csv
import pyarrow.parquet as pq

from clock import interleaved
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.rows.input_tables import read_file
from yardstick.formats.sources.sourcing import open_by

HALVES = {"visits.csv": 1, "visits.jsonl": 1, "visits.parquet": 1, "export.csv": 1, "visits.xlsx": 20}
"""By how much fewer rows a format gets."""
SOURCE = SourcePart.model_validate(
    {
        "name": "export", "table": "visits", "date": "day month year", "delimiter": ";", "nothing": ["n/a"],
        "columns": {"visit_id": "Nr", "occurred_at": "Wann", "visitor_id": "Wer", "url": "Seite", "referrer": "Von", "device": "Gerät"},
    }
).plain()  # fmt: skip


def world(n: int) -> Any:
    """Visits: half with tags, a third with a click mark of their own."""
    urls = [
        f"https://www.lunnick.example/boats?utm_source=quorrin&utm_campaign=c{i % 40}" + (f"&qkid=k{i}" if i % 3 == 0 else "")
        if i % 2 == 0
        else f"https://www.lunnick.example/p{i % 50}"
        for i in range(n)
    ]  # fmt: skip
    start = 1_772_323_200
    at = pa.array([start + 7 * i for i in range(n)], pa.timestamp("s"))
    return pa.table(
        {
            "visit_id": [f"v{i}" for i in range(n)],
            "occurred_at": pa.compute.strftime(at, format="%Y-%m-%dT%H:%M:%SZ"),
            "visitor_id": [f"p{i // 3}" for i in range(n)],
            "url": urls,
            "referrer": ["https://findery.example/" if i % 5 == 0 else "" for i in range(n)],
            "device": ["mobile" if i % 2 else "desktop" for i in range(n)],
        }
    )


def write(folder: Path, n: int) -> dict[str, int]:
    """The same rows in every format; rows by file."""
    table = world(n)
    pa.csv.write_csv(table, folder / "visits.csv")
    pq.write_table(table, folder / "visits.parquet")
    with (folder / "visits.jsonl").open("w") as out:
        out.writelines(json.dumps(row) + "\n" for row in table.to_pylist())
    at = pa.compute.strptime(table["occurred_at"], format="%Y-%m-%dT%H:%M:%SZ", unit="s")
    said = table.set_column(1, "Wann", pa.compute.strftime(at, format="%d.%m.%Y %H:%M:%S"))
    said = said.rename_columns(["Nr", "Wann", "Wer", "Seite", "Von", "Gerät"])
    out = io.BytesIO()
    pa.csv.write_csv(said, out, pa.csv.WriteOptions(delimiter=";"))
    (folder / "export.csv").write_bytes(out.getvalue())
    few = table.slice(0, n // HALVES["visits.xlsx"])
    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet()
    sheet.append(few.column_names)
    for row in few.to_pylist():
        sheet.append(list(row.values()))
    book.save(folder / "visits.xlsx")
    return {name: n // by for name, by in HALVES.items()}


def ours(path: Path) -> Callable[[], object]:
    """Reading, typing and keying a file, as every door does."""

    def read() -> int:
        with path.open("rb") as stream:
            source = SOURCE if path.name == "export.csv" else None
            return read_file(open_by(path.name, stream, source), "UTC").count.accepted

    return read


def theirs(path: Path) -> Callable[[], object]:
    """Polars reading the file and casting its times."""
    layout, column = (
        ("%d.%m.%Y %H:%M:%S", "Wann") if path.name == "export.csv" else ("%Y-%m-%dT%H:%M:%SZ", "occurred_at")
    )

    def read() -> int:
        if path.suffix == ".csv":
            frame = pl.read_csv(path, separator=";" if path.name == "export.csv" else ",", infer_schema=False)
        elif path.suffix == ".parquet":
            frame = pl.read_parquet(path)
        elif path.suffix == ".jsonl":
            frame = pl.read_ndjson(path)
        else:
            book = openpyxl.load_workbook(path, read_only=True)
            names, *rows = book.worksheets[0].iter_rows(values_only=True)
            frame = pl.DataFrame(rows, schema=list(names), orient="row")
        return frame.with_columns(pl.col(column).str.to_datetime(layout)).height

    return read


def main(n: int) -> None:
    """Print CPU seconds a million rows, ours and Polars', and what a mapping costs beside the plain read."""
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        rows = write(folder, n)
        measures = {}
        for file in rows:
            measures[f"ours {file}"] = ours(folder / file)
            measures[f"polars {file}"] = theirs(folder / file)
        took = interleaved(measures, rounds=3)
    for file, count in rows.items():
        mine, other = (took[f"{who} {file}"].cpu * 1e6 / count for who in ("ours", "polars"))
        print(f"{file:16} {mine:6.2f} s CPU a million rows, Polars {other:6.2f} s: {mine / other:5.1f} x")
    print(
        f"an export by its source costs {took['ours export.csv'].cpu / took['ours visits.csv'].cpu:.2f} x the plain read"
    )


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 400_000)
