"""Fingerprints (R27): the same data, settings and question always give the same name."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from dataclasses import MISSING, Field, asdict, fields, is_dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from ..plan.gathering_phase import Gathering
from ..plan.linking_phase import Linking
from ..plan.plan import Plan
from .breakdown import Breakdown

RULES_VERSION = "4"
"""Goes up when a rule changes what it computes from the same rows."""
ROWS_VERSION = "3"
"""Goes up when rows are typed or keyed in another way."""


def fingerprint_of(plan: Plan, by: Breakdown, data: str, where: tuple[str, ...] = ()) -> str:
    """Fingerprint of a result: of its data, its settings and its breakdown (R27).

    Of the settings those count that are not the defaults: a field or a rule that is new one day renames no result of
    before. A default that becomes another one is a change of the rules, and raises `RULES_VERSION`.

    Parameters
    ----------
    plan, by, where : what is asked of the data
    data : fingerprint of the rows (`Tables.data`)

    Returns
    -------
    16 hexadecimal characters
    """
    settings = json.dumps(_chosen(plan), sort_keys=True)
    text = "\n".join([RULES_VERSION, data, settings, str(by), *where])
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
    cleaned: dict[str, Any] = _plain(_in_figures(plan))
    return cleaned


def _in_figures(plan: Plan) -> dict[str, Any]:
    values = {name: value for name, value in plan.flat().items() if name not in NOT_IN_FIGURES}
    values["campaigns"] = [
        asdict(c.names()) | {"target_roas": c.target_roas, "target_cost_per_lead": c.target_cost_per_lead}
        for c in plan.campaigns
    ]
    values["levels"] = [{"level": v.level, "id": v.id, "name": v.name} for v in plan.levels]
    return values


def _chosen(plan: Plan) -> dict[str, Any]:
    """What figures depend on and somebody chose, as plain values: of each phase and each record what differs from its
    default."""
    defaults = {f.name: _default(f) for phase in plan.phases() for f in fields(phase)}
    values = {name: value for name, value in _in_figures(plan).items() if value != defaults.get(name, ())}
    cleaned: dict[str, Any] = _plain(values, _differing)
    for campaign in cleaned.get("campaigns", ()):
        for name in [name for name, value in campaign.items() if value in (None, "", [])]:
            del campaign[name]
    return cleaned


def _default(field: Field[Any]) -> Any:
    return field.default_factory() if field.default_factory is not MISSING else field.default


def _differing(record: Any) -> dict[str, Any]:
    """The fields of a record that are not as a record has them of whom nothing is said."""
    return {f.name: value for f in fields(record) if (value := getattr(record, f.name)) != _default(f)}


def _plain(value: Any, taken_apart: Callable[[Any], dict[str, Any]] = asdict) -> Any:
    if is_dataclass(value) and not isinstance(value, type):
        return _plain(taken_apart(value), taken_apart)
    if isinstance(value, dict):
        return {key: _plain(item, taken_apart) for key, item in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(item, taken_apart) for item in value]
    if isinstance(value, Decimal):
        return format(value.normalize(), "f")
    if isinstance(value, date):
        return value.isoformat()
    return value
