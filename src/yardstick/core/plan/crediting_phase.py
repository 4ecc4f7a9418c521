"""The yardsticks of a plan (R14-R16)."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal


@dataclass(frozen=True)
class Yardstick:
    """A rule for sharing credit, under a name.

    Attributes
    ----------
    rule : word of one of `rules.registry.RULES`, which says what the rest is to it
    by : what its players or states are: campaign or channel
    params : the numbers that are stated, by name
    channels : weights by channel
    """

    name: str
    rule: str
    by: str = "campaign"
    params: tuple[tuple[str, Decimal], ...] = ()
    channels: tuple[tuple[str, Decimal], ...] = ()


USUAL_RULES = ("first", "last", "last_marked", "linear", "position", "decay", "fair_share", "removal")
"""Rules that a plan has without any yardstick in the settings, under their own names: one that is new is not among them
until somebody says so here. It is said here, not by the rules: a plan is made where no rule is ever loaded."""

PANEL = ("first", "last", "linear", "fair_share")
"""Yardsticks that the board draws beside the chosen one, as far as they are there, unless the settings name others."""


@dataclass(frozen=True)
class Crediting:
    """The yardsticks (R14-R16)."""

    yardsticks: tuple[Yardstick, ...] = tuple(Yardstick(rule, rule) for rule in USUAL_RULES)
