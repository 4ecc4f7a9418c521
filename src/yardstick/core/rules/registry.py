"""Every rule that is built, by the word it has in the settings: one module each in `built`, found by itself."""

from __future__ import annotations

from collections.abc import Mapping
from importlib import import_module
from pkgutil import iter_modules
from typing import TYPE_CHECKING

from . import built
from .rule import Need, Rule

if TYPE_CHECKING:
    from ..plan.crediting_phase import Yardstick


def _built() -> dict[str, Rule]:
    modules = (import_module(f"{built.__name__}.{module.name}") for module in iter_modules(built.__path__))
    rules: list[Rule] = [module.RULE for module in modules]
    return {rule.word: rule for rule in sorted(rules, key=lambda rule: rule.shown)}


RULES: Mapping[str, Rule] = _built()
"""All rules, in the order in which they are shown."""
LINEAR = "linear"
"""The rule by which verdicts count conversions, and the board's where nobody chose one."""


def by_states(yardstick: Yardstick) -> bool:
    """Whether a yardstick credits states by what is lost without them, not touches (R16)."""
    return Need.LOSING_PATHS in RULES[yardstick.rule].needs
