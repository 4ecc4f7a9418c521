"""A part made anew from the raw rows in the database."""

from __future__ import annotations

import tempfile
from typing import Any

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow_csv
from sqlalchemy import Connection

from yardstick.core.base.schema import SCHEMA
from yardstick.formats.files.raw import Header, RawBatch
from yardstick.formats.rows.columns import Typer
from yardstick.formats.rows.keyed import keys_of

from .database import copying
from .models import RAW, order_of_rows
from .parts import Parts
from .states import LoadThere


def rebuild_part(connection: Connection, load: LoadThere, zone: str, parts: Parts) -> None:
    """Read the rows of a load back from the database, type and key them, and put the part in place.

    Parameters
    ----------
    connection : where the raw rows are
    load : whose part is missing, damaged, or was typed otherwise
    zone : the workspace's time zone: that of times that carry no offset, unless the load has one of its own
    parts : of the workspace
    """
    zone = load.zone or zone
    names = [c.name for c in SCHEMA[load.table]]
    quoted = ", ".join(f'"{name}"' for name in names)
    query = (
        f"COPY (SELECT line, extra, {quoted} FROM {RAW[load.table].__tablename__} WHERE load_no = {int(load.load)} "
        f"ORDER BY {order_of_rows(load.table)}) TO STDOUT (FORMAT csv, NULL '\\N', FORCE_QUOTE *)"
    )
    with tempfile.TemporaryFile() as file:
        with copying(connection, query) as copy:
            for block in copy:
                file.write(block)
        filled = file.tell() > 0
        file.seek(0)
        typer = Typer(Header(load.table, load.file, tuple(names), ()), zone)
        writer = parts.writer(load.load, load.table, load.file, zone)
        try:
            for raw in _batches(file, names) if filled else ():
                batch = typer.read(raw)
                writer.add(batch, keys_of(load.table, batch, load.detail_columns))
            writer.finish(typer.zone_matters)
        except BaseException:
            writer.give_up()
            raise


def _batches(file: Any, names: list[str]) -> Any:
    columns = ["line", "extra", *names]
    reader = arrow_csv.open_csv(
        file,
        read_options=arrow_csv.ReadOptions(column_names=columns, block_size=1 << 24),
        parse_options=arrow_csv.ParseOptions(newlines_in_values=True),
        convert_options=arrow_csv.ConvertOptions(
            column_types=dict.fromkeys(columns, pa.string()), strings_can_be_null=False, null_values=[]
        ),
    )
    for batch in reader:
        arrays = dict(zip(columns, batch.columns, strict=True))
        lines = np.array([int(v) for v in arrays.pop("line").to_pylist()], np.int64)
        yield RawBatch(arrays, lines)
