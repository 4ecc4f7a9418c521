"""Fingerprints (R27): the same data, settings and question always give the same name."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict, fields, is_dataclass
from datetime import date
from decimal import Decimal
from typing import Any

import numpy as np

from ..base.columns import Amounts, Text
from ..base.tables import Table, Tables
from ..plan.plan import Linking, Plan

RULES_VERSION = "3"
"""Goes up when a rule changes what it computes from the same rows."""


def fingerprint_of(plan: Plan, by: tuple[str, ...], data: str, where: tuple[str, ...] = ()) -> str:
    """Fingerprint of a result: of its data, its settings and its breakdown (R27).

    Parameters
    ----------
    plan, by, where : what is asked of the data
    data : `fingerprint_of_data` of the tables

    Returns
    -------
    16 hexadecimal characters
    """
    said = json.dumps(figures_as_data(plan), sort_keys=True)
    text = "\n".join([RULES_VERSION, data, said, ",".join(by), *where])
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def fingerprint_of_data(tables: Tables) -> str:
    """Fingerprint of the rows that go in, each with its file and line."""
    digest = hashlib.sha256()
    for name, table in tables.named().items():
        digest.update(f"{name} {len(table)}\n".encode())
        _add_table(digest, table)
    return digest.hexdigest()[:16]


def _add_table(digest: Any, table: Table) -> None:
    for column_name, column in [("file", table.file), ("line", table.line), *table.columns.items()]:
        digest.update(column_name.encode() + b"\n")
        if isinstance(column, Text):
            # Codes depend on the order in which values were met; in order of first use they do not.
            values, first, codes = np.unique(column.codes, return_index=True, return_inverse=True)
            rank = np.argsort(np.argsort(first, kind="stable"), kind="stable")
            digest.update(rank[codes.reshape(-1)].astype("<i4").tobytes())
            for code in values[np.argsort(first, kind="stable")].tolist():
                digest.update(column.values[code].encode("utf-8", "surrogatepass") + b"\x00")
        elif isinstance(column, Amounts):
            digest.update(column.known.tobytes())
            if column.units.dtype == object:
                digest.update(",".join(map(str, column.units.tolist())).encode())
            else:
                digest.update(column.units.astype("<i8").tobytes())
            digest.update(str(column.decimals).encode())
        else:
            digest.update(np.ascontiguousarray(column).tobytes())


NOT_IN_FIGURES = {f.name for f in fields(Linking)}


def figures_as_data(plan: Plan) -> dict[str, Any]:
    """All of a plan that figures depend on, as plain values that JSON can write: decimals and days as text."""
    values = {name: value for name, value in plan.flat().items() if name not in NOT_IN_FIGURES}
    values["campaigns"] = [
        asdict(c.names()) | {"target_roas": c.target_roas, "target_cost_per_lead": c.target_cost_per_lead}
        for c in plan.campaigns
    ]
    values["levels"] = [{"level": v.level, "id": v.id, "name": v.name} for v in plan.levels]
    cleaned: dict[str, Any] = _plain(values)
    return cleaned


def _plain(value: Any) -> Any:
    if is_dataclass(value) and not isinstance(value, type):
        return _plain(asdict(value))
    if isinstance(value, dict):
        return {key: _plain(item) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(item) for item in value]
    if isinstance(value, Decimal):
        return format(value.normalize(), "f")
    if isinstance(value, date):
        return value.isoformat()
    return value
