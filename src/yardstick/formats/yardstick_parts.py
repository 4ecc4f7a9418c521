"""Yardsticks as settings state them: rules and their parameters, typed and limited (R14, R15)."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.plan.plan import BUILT_RULES
from yardstick.core.plan.records import Yardstick

from .part_fields import Exact, Part


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


class YardstickPart(Part):
    """One entry `[[yardstick]]`."""

    name: Annotated[str, Field(min_length=1)]
    rule: str
    by: Literal["campaign", "channel"] | None = None
    first: Weight | None = None
    middle: Weight | None = None
    last: Weight | None = None
    half_life_days: Weight | None = None
    channel: dict[str, Weight] | None = None

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
                raise SettingsError(f"{who}: channel {name!r} is there twice, also as {seen[fold(name)]!r}: keep one")
            seen[fold(name)] = name
        return tuple(sorted((self.channel or {}).items()))
