"""What would be lost without a state (R16). It is learned from all paths, those that were lost too, so it gives no
shares of single trails: `credit.removal` and `report.removals` work it out."""

from __future__ import annotations

from ..rule import Need, ParameterKind, Rule, RuleParameter

RULE = Rule(
    "removal",
    "Removal",
    9,
    None,
    needs=frozenset({Need.PLAYERS, Need.LOSING_PATHS}),
    parameters=(RuleParameter("by", "what a state is", "channel", ParameterKind.PLAYER),),
)
