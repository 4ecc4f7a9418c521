"""The plan: everything a weighing depends on besides the data, frozen, typed, split by the step that asks for it.

What a step depends on is the type of its argument, so what it gave can be kept for as long as that part stays equal.
"""

from __future__ import annotations

from dataclasses import dataclass, field, fields, replace
from functools import cached_property
from typing import Any

from ..base.words import fold
from .campaign_records import Campaign, Level
from .costing_phase import Costing, Money
from .counting_phase import Goal, GoalWindow, Trailing, Windows
from .crediting_phase import PANEL, Crediting
from .gathering_phase import Gathering
from .linking_phase import Linking
from .reading_phase import Reading
from .reporting_phase import EVENT, Reporting


@dataclass(frozen=True)
class Plan:
    """One state of a workspace's plan. See docs/formats.md for each field.

    Attributes
    ----------
    campaigns, goals, levels : as the plan states them; the phases hold what each step needs of them
    money, reading, trailing, windows, costing, crediting, reporting, linking, gathering : by step
    """

    campaigns: tuple[Campaign, ...] = ()
    goals: tuple[Goal, ...] = ()
    levels: tuple[Level, ...] = ()
    money: Money = field(default_factory=Money)
    reading: Reading = field(default_factory=Reading)
    trailing: Trailing = field(default_factory=Trailing)
    windows: Windows = field(default_factory=Windows)
    costing: Costing = field(default_factory=Costing)
    crediting: Crediting = field(default_factory=Crediting)
    reporting: Reporting = field(default_factory=Reporting)
    linking: Linking = field(default_factory=Linking)
    gathering: Gathering = field(default_factory=Gathering)

    def campaign_of(self, text: str, day: int | None = None) -> Campaign | None:
        """The one answer to which campaign a text means.

        Parameters
        ----------
        text : a name, code or plain name, or a value that was renamed to one
        day : days since 1970; renames that have begun by then hold, without a day all of them

        Returns
        -------
        Campaign, None if the plan has none of that name
        """
        return self._by_name.get(self.reading.names.meant("campaign", text, day))

    @cached_property
    def _by_name(self) -> dict[str, Campaign]:
        return {self.reading.names.same(c.name): c for c in self.campaigns}

    @cached_property
    def figures(self) -> tuple[object, ...]:
        """All that figures depend on; equal for plans that give the same figures."""
        targets = tuple((c.name, c.target_roas, c.target_cost_per_lead) for c in self.campaigns)
        phases = (self.money, self.reading, self.trailing, self.windows, self.costing, self.crediting, self.reporting)
        return (*phases, self.goals, targets)

    def phases(self) -> tuple[Any, ...]:
        """Every phase, in the order of the way of a row."""
        return tuple(getattr(self, name) for name in _PHASES)

    def flat(self) -> dict[str, Any]:
        """Every field by its name, whatever its phase; `plan_of` makes the same plan of it."""
        values: dict[str, Any] = {"campaigns": self.campaigns, "goals": self.goals, "levels": self.levels}
        for phase in self.phases():
            values |= {f.name: getattr(phase, f.name) for f in fields(phase)}
        return {name: value for name, value in values.items() if name not in _DERIVED}

    @property
    def panel(self) -> tuple[str, ...]:
        """Names of the yardsticks that the board draws and verdicts ask (R25): those the settings name, else the usual
        four, else the first four there are."""
        names = [yardstick.name for yardstick in self.crediting.yardsticks]
        return self.reporting.panel or tuple(n for n in PANEL if n in names) or tuple(names[:4])

    @property
    def usual_yardstick(self) -> str:
        """The yardstick that board and command show where nobody chose one.

        That of the first goal which names one, else the linear one, else the first there is."""
        there = {yardstick.name: yardstick for yardstick in self.crediting.yardsticks}
        of_goals = [goal.yardstick for goal in self.goals if goal.yardstick in there]
        linear = [name for name, yardstick in there.items() if yardstick.rule == "linear"]
        return next(iter([*of_goals, *linear, *there]))

    def having(self, **changes: Any) -> Plan:
        """The plan with other values of some fields, named as in `plan_of`."""
        return plan_of(**self.flat() | changes)


_PHASES: dict[str, type] = {
    "money": Money,
    "reading": Reading,
    "trailing": Trailing,
    "windows": Windows,
    "costing": Costing,
    "crediting": Crediting,
    "reporting": Reporting,
    "linking": Linking,
    "gathering": Gathering,
}
_PHASE_OF = {f.name: name for name, phase in _PHASES.items() for f in fields(phase)}
_DERIVED = ("event", "platform_kinds", "named_campaigns", "named_levels", "counted_goals", "goal_windows")
"""Fields that `plan_of` works out of the campaigns, levels and goals."""


_OUTSIDE_COUNTING: dict[str, Any] = {"click_days": None, "watch_days": None, "view_days": None, "yardstick": ""}
"""What of a goal does not bear on which records count and what they are worth."""


def plan_of(
    campaigns: tuple[Campaign, ...] = (), goals: tuple[Goal, ...] = (), levels: tuple[Level, ...] = (), **values: Any
) -> Plan:
    """A plan from its fields by name, whatever the phase they stand in.

    Raises
    ------
    TypeError
        If a field is unknown.
    """
    values |= {
        "event": fold(str(values.get("date_basis", "")).partition(EVENT)[2]),
        "platform_kinds": tuple((p.source, p.medium, p.kind) for p in values.get("platforms", ())),
        "named_campaigns": tuple(c.names() for c in campaigns),
        "named_levels": tuple(Level(v.level, v.id, v.name) for v in levels),
        "counted_goals": tuple(
            replace(g, click_days=None, watch_days=None, view_days=None, yardstick="") for g in goals
        ),
        "goal_windows": tuple(GoalWindow(g.name, g.since, g.click_days, g.watch_days, g.view_days) for g in goals),
    }
    phases: dict[str, dict[str, Any]] = {}
    for name, value in values.items():
        if name not in _PHASE_OF:
            raise TypeError(f"a plan has no field {name!r}")
        phases.setdefault(_PHASE_OF[name], {})[name] = value
    return Plan(campaigns, goals, levels, **{name: _PHASES[name](**given) for name, given in phases.items()})
