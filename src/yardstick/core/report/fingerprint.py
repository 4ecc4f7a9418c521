"""Fingerprints (R27): the same data, settings and question always give the same name."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict, fields, is_dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from ..plan.plan import Gathering, Linking, Plan

RULES_VERSION = "4"
"""Goes up when a rule changes what it computes from the same rows."""
ROWS_VERSION = "3"
"""Goes up when rows are typed or keyed in another way."""


def fingerprint_of(plan: Plan, by: tuple[str, ...], data: str, where: tuple[str, ...] = ()) -> str:
    """Fingerprint of a result: of its data, its settings and its breakdown (R27).

    Parameters
    ----------
    plan, by, where : what is asked of the data
    data : fingerprint of the rows (`Tables.data`)

    Returns
    -------
    16 hexadecimal characters
    """
    said = json.dumps(figures_as_data(plan), sort_keys=True)
    text = "\n".join([RULES_VERSION, data, said, ",".join(by), *where])
    return hashlib.sha256(text.encode()).hexdigest()[:16]


def name_of(total: int) -> str:
    """The name of a state of the rows: of a sum modulo 2^256 over what each row contributes (R27).

    Returns
    -------
    32 hexadecimal characters
    """
    said = f"{ROWS_VERSION} {total % 2**256:064x}"
    return hashlib.sha256(said.encode()).hexdigest()[:32]


NOT_IN_FIGURES = {f.name for phase in (Linking, Gathering) for f in fields(phase)}


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
