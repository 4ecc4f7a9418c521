"""What is declared of a kind of record in the plan: all of it in one place, beside the record's own fields.

The document and its limits, the settings as used, what must not appear twice, the lists as files, the columns and
titles of the screens and the property tests are made of it (decision 0039).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from dataclasses import fields as fields_of
from typing import Any, ClassVar, Generic, TypeVar

from yardstick.core.base.errors import SettingsError

from .part_fields import SettingsPart
from .what_changes import FIGURES

PLAN, MARK, GATHER = "plan", "mark", "gather"
"""Stations where the lists of the plan are edited."""


class RecordPart(SettingsPart):
    """A record of the plan as written in settings.toml.

    Its fields have the names of those of `core`, the frozen record that figures and links depend on, and may be more:
    what is there to be read. What is left out is as `core` has it.
    """

    core: ClassVar[type[Any]]

    def plain(self) -> Any:
        """The record as far as figures and links depend on it: lists without their empty words."""
        given = {}
        for one in fields_of(self.core):
            value = getattr(self, one.name)
            if value is None and isinstance(one.default, str):
                value = one.default
            given[one.name] = frozen(value)
        return self.core(**given)


def frozen(value: Any) -> Any:
    """A list as a tuple without its empty words, a piece of a record as the core has it, anything else as it is."""
    if isinstance(value, list):
        return tuple(frozen(item) for item in value if item != "")
    return value.plain() if isinstance(value, SettingsPart) and hasattr(value, "plain") else value


P = TypeVar("P", bound=Any)


def _each(parts: Sequence[Any]) -> tuple[Any, ...]:
    return tuple(part.plain() for part in parts)


def _as_it_is(record: dict[str, Any]) -> dict[str, Any]:
    return record


def _fine(_: Sequence[Any], __: Sequence[str]) -> None:
    return None


@dataclass(frozen=True)
class Section(Generic[P]):
    """A kind of record: a list of settings.toml.

    Attributes
    ----------
    name : of the list in settings.toml
    part : what its records are there
    plan_field : the field of the plan that it fills, whose phase says what it can change (`core.plan.plan.plan_of`)
    title, one, purpose : what the screen calls the list and one of its records, and what they are for
    columns : fields that its table shows, in the names of settings.toml
    place : the station where it is edited; empty where it is drawn and has no table
    ordered : whether the order of its records means something
    changes : what its fields change (`what_changes`); `except_for` = those that change something else
    once : (what it is called, its names) of what no two records may share
    check : raises `SettingsError` where its records cannot be; the second argument has the names of the yardsticks
    plain : what the plan's field is made of
    used : a record of `settings_used` as settings.toml has it, made of what the core has
    """

    name: str
    part: type[P]
    plan_field: str
    title: str
    one: str
    purpose: str
    columns: tuple[str, ...] = ()
    place: str = PLAN
    ordered: bool = False
    changes: str = FIGURES
    except_for: Mapping[str, str] = field(default_factory=dict)
    once: tuple[tuple[str, Callable[[P], Iterable[str]]], ...] = ()
    check: Callable[[Sequence[P], Sequence[str]], None] = _fine
    plain: Callable[[Sequence[P]], tuple[Any, ...]] = _each
    used: Callable[[dict[str, Any]], dict[str, Any]] = _as_it_is

    def see_to(self, parts: Sequence[P], yardsticks: Sequence[str]) -> None:
        """See that the records do not contradict each other.

        Raises
        ------
        SettingsError
            Says which two do, and what to do.
        """
        for what, names in self.once:
            see_once(what, (name for part in parts for name in names(part)))
        self.check(parts, yardsticks)


def see_once(what: str, names: Iterable[str]) -> None:
    """See that no name appears twice.

    Raises
    ------
    SettingsError
        Names the first that does.
    """
    seen: set[str] = set()
    for name in names:
        if name in seen:
            raise SettingsError(f"{what} {name!r} appears twice: give each a name of its own")
        seen.add(name)
