"""Yardsticks as settings state them: rules and their parameters, typed and limited (R14, R15)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BeforeValidator, Field, create_model

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.plan.crediting_phase import Crediting, Yardstick
from yardstick.core.rules.registry import RULES
from yardstick.core.rules.rule import ParameterKind, Rule, RuleParameter

from .part_fields import Exact, Name, SettingsPart, described_field
from .section import Section


def _short(value: Decimal) -> Decimal:
    if value != value.quantize(Decimal("0.0001")):
        raise ValueError("at most 4 decimals")
    return value.normalize()


Weight = Annotated[Exact, Field(ge=0, le=1000), AfterValidator(_short)]


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


PLAYERS = Literal["campaign", "channel"]
ByChannel = Annotated[dict[str, Weight] | None, BeforeValidator(_by_name)]
_OF_KIND: dict[ParameterKind, Any] = {
    ParameterKind.NUMBER: Weight | None,
    ParameterKind.PLAYER: PLAYERS | None,
    ParameterKind.BY_CHANNEL: ByChannel,
}
_OF_FORM = {"pair": {"channel": ["Its name.", "Email"], "weight": ["How much a touch of it weighs.", "0.5"]}}


def _parameters() -> dict[str, list[tuple[Rule, RuleParameter]]]:
    """By name, the rules that have it, those of the rule with the most first, so that they stand side by side."""
    out: dict[str, list[tuple[Rule, RuleParameter]]] = {}
    for rule in sorted(RULES.values(), key=lambda rule: -len(rule.parameters)):
        for parameter in rule.parameters:
            out.setdefault(parameter.name, []).append((rule, parameter))
    return {name: sorted(of, key=lambda one: one[0].shown) for name, of in out.items()}


PARAMETERS = _parameters()


def _field_of(of: list[tuple[Rule, RuleParameter]]) -> tuple[Any, Any]:
    """A parameter as a field of the record: its line says what it is to each rule."""
    texts: dict[str, list[str]] = {}
    for rule, parameter in of:
        texts.setdefault(parameter.text, []).append(rule.word)
    line = "; ".join(f"{' and '.join(words)}: {text}" for text, words in texts.items()) + "."
    first = of[0][1]
    more = {"json_schema_extra": _OF_FORM} if first.kind is ParameterKind.BY_CHANNEL else {}
    return _OF_KIND[first.kind], described_field(line, first.example, default=None, **more)


class NamedRule(SettingsPart):
    """What every yardstick says."""

    name: Name = described_field("What it is called on the board and in files.", "late touches")
    rule: str = described_field(
        "How a conversion is shared among the touches of its trail.",
        "custom",
        json_schema_extra={"options": list(RULES)},
    )

    def plain(self) -> Yardstick:
        """The yardstick.

        Raises
        ------
        SettingsError
            If the rule is unknown, a parameter belongs to another one, or its numbers cannot share anything.
        """
        who = f"yardstick {self.name!r}"
        if self.rule not in RULES:
            raise SettingsError(f"{who}: unknown rule {self.rule!r}; built are {', '.join(RULES)}")
        own = {parameter.name: parameter for parameter in RULES[self.rule].parameters}
        stated = {name: value for name in PARAMETERS if (value := getattr(self, name)) is not None}
        for name in stated:
            if name not in own:
                rules = " and ".join(rule.word for rule, _ in PARAMETERS[name])
                raise SettingsError(f"{who}: {name!r} belongs to {rules}, not to {self.rule}")
        of_kind = {kind: {n: v for n, v in stated.items() if own[n].kind is kind} for kind in ParameterKind}
        numbers = of_kind[ParameterKind.NUMBER]
        wrong = RULES[self.rule].wrong(numbers)
        if wrong:
            raise SettingsError(f"{who}: {wrong}")
        player = next(iter(of_kind[ParameterKind.PLAYER].values()), Yardstick.by)
        weights: Mapping[str, Decimal] = next(iter(of_kind[ParameterKind.BY_CHANNEL].values()), {})
        return Yardstick(self.name, self.rule, player, tuple(numbers.items()), _weights(who, weights))


def _weights(who: str, stated: Mapping[str, Decimal]) -> tuple[tuple[str, Decimal], ...]:
    seen: dict[str, str] = {}
    for name in stated:
        if fold(name) in seen:
            raise SettingsError(f"{who}: channel {name!r} appears twice, also as {seen[fold(name)]!r}: keep one")
        seen[fold(name)] = name
    return tuple(sorted(stated.items()))


_FIELDS: dict[str, Any] = {name: _field_of(of) for name, of in PARAMETERS.items()}
YardstickPart = create_model("YardstickPart", __base__=NamedRule, __doc__="One entry `[[yardstick]]`.", **_FIELDS)
"""A yardstick with the parameters of all rules."""


def _yardsticks(parts: Sequence[NamedRule]) -> tuple[Yardstick, ...]:
    return tuple(part.plain() for part in parts) or Crediting().yardsticks


def _yardstick_as_written(record: dict[str, Any]) -> dict[str, Any]:
    kept = dict(record)
    if not any(parameter.kind is ParameterKind.PLAYER for parameter in RULES[kept["rule"]].parameters):
        # Settings take whom a rule is asked of from no other rule.
        kept.pop("by")
    kept |= dict(kept.pop("params"))
    weights = dict(kept.pop("channels"))
    return kept | ({"channel": weights} if weights else {})


YARDSTICK = Section(
    "yardstick",
    YardstickPart,
    plan_field="yardsticks",
    title="Yardsticks",
    one="yardstick",
    purpose="The rules that share a conversion among the touches before it, with their parameters. Without any here "
    "the usual eight stand under their own names; a first one is added beside them.",
    columns=("name", "rule", *PARAMETERS),
    once=(("yardstick", lambda part: [part.name]),),
    plain=_yardsticks,
    used=_yardstick_as_written,
)
