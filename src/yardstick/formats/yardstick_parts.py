"""Yardsticks as settings state them: rules and their parameters, typed and limited (R14, R15)."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BeforeValidator, Field

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.plan.plan import BUILT_RULES
from yardstick.core.plan.records import Yardstick

from .part_fields import Exact, Name, SettingsPart, described_field


def _short(value: Decimal) -> Decimal:
    if value != value.quantize(Decimal("0.0001")):
        raise ValueError("at most 4 decimals")
    return value.normalize()


Weight = Annotated[Exact, Field(ge=0, le=1000), AfterValidator(_short)]
OF_RULE: Mapping[str, tuple[str, ...]] = {
    "position": ("first", "last"),
    "decay": ("half_life_days",),
    "custom": ("first", "middle", "last", "channel"),
    "fair_share": ("by",),
    "removal": ("by",),
}
"""Which parameters belong to which rule; the others have none."""


def _by_name(value: Any) -> Any:
    """Weights as a form has them, one record a channel, as those of TOML: channel -> weight."""
    if not isinstance(value, list):
        return value
    out: dict[str, Any] = {}
    for entry in value:
        if not isinstance(entry, Mapping) or set(entry) - {"channel", "weight"}:
            raise ValueError("write a channel and its weight")
        name = str(entry.get("channel") or "").strip()
        if not name:
            raise ValueError("a weight without a channel: name one")
        if name in out:
            raise ValueError(f"channel {name!r} appears twice: keep one")
        out[name] = entry.get("weight")
    return out or None


class YardstickPart(SettingsPart):
    """One entry `[[yardstick]]`."""

    name: Name = described_field("What it is called on the board and in files.", "late touches")
    rule: str = described_field(
        "How a conversion is shared among the touches of its trail.",
        "custom",
        json_schema_extra={"options": list(BUILT_RULES)},
    )
    by: Literal["campaign", "channel"] | None = described_field(
        "fair_share and removal: what a player or state is.", "channel", default=None
    )
    first: Weight | None = described_field(
        "position: share of the first touch; custom: its weight.", "0.4", default=None
    )
    middle: Weight | None = described_field("custom: weight of each touch between.", "0.5", default=None)
    last: Weight | None = described_field("position: share of the last touch; custom: its weight.", "0.4", default=None)
    half_life_days: Weight | None = described_field(
        "decay: a touch so many days before the newest weighs half.", "7", default=None
    )
    channel: Annotated[dict[str, Weight] | None, BeforeValidator(_by_name)] = described_field(
        "custom: weight of touches of a channel, 1 where none is named.", "Email 0.5", default=None
    )

    def plain(self) -> Yardstick:
        """The yardstick.

        Raises
        ------
        SettingsError
            If the rule is unknown, a parameter belongs to another one, or its numbers cannot share anything.
        """
        who = f"yardstick {self.name!r}"
        if self.rule not in BUILT_RULES:
            raise SettingsError(f"{who}: unknown rule {self.rule!r}; built are {', '.join(BUILT_RULES)}")
        own = OF_RULE.get(self.rule, ())
        for name in ("by", "first", "middle", "last", "half_life_days", "channel"):
            if getattr(self, name) is not None and name not in own:
                rules = " and ".join(rule for rule, names in OF_RULE.items() if name in names and rule in BUILT_RULES)
                raise SettingsError(f"{who}: {name!r} belongs to {rules}, not to {self.rule}")
        numbers = [(name, getattr(self, name)) for name in ("first", "middle", "last", "half_life_days")]
        params = tuple((name, value) for name, value in numbers if value is not None)
        if self.rule == "position":
            self._check_position(who)
        if self.rule == "decay" and self.half_life_days == 0:
            raise SettingsError(f"{who}: half_life_days must be above 0: it is the age at which a touch weighs half")
        return Yardstick(self.name, self.rule, self.by or "campaign", params, self._weights(who))

    def _check_position(self, who: str) -> None:
        usual = Decimal("0.4")
        first = usual if self.first is None else self.first
        last = usual if self.last is None else self.last
        if first + last > 1:
            raise SettingsError(f"{who}: first and last add up to {first + last}: together they can have 1 at most")
        if first + last == 0:
            raise SettingsError(f"{who}: first and last are both 0: a trail of two touches would have no share")

    def _weights(self, who: str) -> tuple[tuple[str, Decimal], ...]:
        seen: dict[str, str] = {}
        for name in self.channel or {}:
            if fold(name) in seen:
                raise SettingsError(f"{who}: channel {name!r} appears twice, also as {seen[fold(name)]!r}: keep one")
            seen[fold(name)] = name
        return tuple(sorted((self.channel or {}).items()))
