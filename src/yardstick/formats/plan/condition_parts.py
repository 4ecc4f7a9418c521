"""Conditions of rules, as written in settings.toml."""

from __future__ import annotations

from typing import Any

from yardstick.core.base import conditions
from yardstick.core.plan.reading_phase import Condition
from yardstick.core.reading.asking import ASKED

from .part_fields import Name, SettingsPart, described_field


class ConditionPart(SettingsPart):
    """One condition of a channel rule."""

    field: Name = described_field(
        "What is looked at: a field, parameter:NAME or extra:NAME.",
        "source",
        json_schema_extra={"suggested": list(ASKED)},
    )
    op: Name = described_field(
        "How; matches takes a regular expression.",
        "begins with",
        json_schema_extra={"options": [*conditions.OFFERED]},
    )
    value: str | bool | list[str] | None = described_field(
        "What it is compared with, one on each line; none for is there and is empty.", "p-", default=None
    )

    def plain(self) -> Condition:
        """The condition."""
        value = self.value
        values = () if value is None else tuple(value) if isinstance(value, list) else (str(value),)
        return Condition(self.field, self.op, values)


def when_as_written(record: dict[str, Any]) -> dict[str, Any]:
    """A rule as settings.toml has it, made of what the core has."""
    when = [{"field": c["field"], "op": c["op"], "value": c["values"]} for c in record["when"]]
    return record | {"when": when}
