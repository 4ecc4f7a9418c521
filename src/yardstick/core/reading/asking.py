"""What conditions of channel rules and legends look at in an arrival (R3, R5)."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass

from ..base.conditions import Test, condition, operator_of
from ..base.errors import SettingsError
from ..base.words import collapse, fold, same_as
from ..plan.reading_phase import Condition, Reading
from .hosts import ascii_host
from .pages import page_key, pages_among
from .tags import EXTRA, FIELDS

REFERRER, LANDING, PAGE, MARK = "referrer host", "landing host", "landing page", "click mark"
PARAMETER = "parameter:"
ASKED = (*FIELDS, "referrer_host", "landing_host", "landing_page", "click_mark")
"""Fields that conditions name, besides `parameter:NAME` and `extra:NAME`."""

Seen = Mapping[str, str]
"""What stands in an arrival, by field or `parameter:` and folded name; what does not stand there is missing."""


@dataclass(frozen=True)
class Arrival:
    """What conditions look at.

    Attributes
    ----------
    tags : the six fields in the order of `tags.FIELDS`, as they came, after R4
    tagged, marked : whether it carries any tag, and a click mark
    referrer_host, landing_host : empty where there is none
    stated : parameters that stand in the address, as far as a condition asks for them: (folded name, value after R4)
    page : the address without its query; empty where there is none
    """

    tags: tuple[str, ...]
    tagged: bool
    marked: bool
    referrer_host: str = ""
    landing_host: str = ""
    stated: tuple[tuple[str, str], ...] = ()
    page: str = ""

    def seen(self, referrer_host: str) -> Seen:
        """What stands in it.

        Parameters
        ----------
        referrer_host : as it counts (see `hosts.outside_of`)
        """
        out = {PARAMETER + name: value for name, value in self.stated}
        out |= {name: "" for name in FIELDS if PARAMETER + f"utm_{name}" in out}
        out |= {name: value for name, value in zip(FIELDS, self.tags, strict=True) if value}
        out |= {REFERRER: referrer_host} if referrer_host else {}
        out |= {LANDING: self.landing_host} if self.landing_host else {}
        out |= {PAGE: page_key(self.page)} if self.page else {}
        return out | ({MARK: "yes"} if self.marked else {})


def watched_parameters(conditions: Iterable[Condition]) -> tuple[str, ...]:
    """Folded names of the parameters that conditions ask for."""
    asked: dict[str, None] = {}
    for stated in conditions:
        for key in _keys(stated.field):
            name = key.removeprefix(PARAMETER)
            if key.startswith(PARAMETER):
                asked[name] = None
            elif key in FIELDS and operator_of("condition", stated.op)[0] == "is there":
                asked[f"utm_{name}"] = None
    return tuple(asked)


@dataclass(frozen=True)
class ArrivalTest:
    """Whether an arrival passes a condition."""

    _holds: Callable[[Seen], bool]
    _keys: tuple[str, ...] = ()
    _text: Test | None = None

    def __call__(self, seen: Seen) -> bool:
        """Whether what stands in an arrival passes."""
        return self._holds(seen)

    @property
    def learns(self) -> bool:
        """Whether it is faster for many arrivals at once."""
        return self._text is not None and self._text.learns

    def learn(self, many: Iterable[Seen]) -> None:
        """Get ready for many arrivals at once (see `Test.learn`)."""
        if self._text is not None and self._text.learns:
            self._text.learn([_first(seen, self._keys) for seen in many])


def _first(seen: Seen, keys: Iterable[str]) -> str | None:
    return next((seen[key] for key in keys if key in seen), None)


def test_of(where: str, stated: Condition, folding: bool) -> ArrivalTest:
    """A test of arrivals.

    Parameters
    ----------
    where : what states the condition, for messages
    stated : the condition
    folding : whether values fold (R2); hosts and the medium always do

    Raises
    ------
    SettingsError
        If it names an unknown field or operator, or has the wrong number of values.
    """
    keys = _keys(stated.field)
    if not keys:
        known = ", ".join(ASKED)
        raise SettingsError(
            f"{where}: unknown field {stated.field!r}; fields are {known}, parameter:NAME and extra:NAME"
        )
    clean = _clean(keys, folding)
    values = stated.values
    if keys[0] == MARK:
        values = tuple(_yes_no(where, value) for value in values)
    holds = condition(where, stated.op, values, clean)
    operator, wanted = operator_of(where, stated.op)
    if keys[0] == PAGE and operator in ("is", "in list"):
        listed = pages_among(values)
        return ArrivalTest(lambda seen: listed(seen.get(PAGE, "")) == wanted)
    if len(keys) == 1:
        return ArrivalTest(lambda seen: holds(seen.get(keys[0])), keys, holds)
    return ArrivalTest(lambda seen: holds(_first(seen, keys)), keys, holds)


def sameness(when: Iterable[Condition], folding: bool) -> frozenset[tuple[object, ...]]:
    """Equal for conditions that hold for the same arrivals because they say the same, in whatever order (R2, R3)."""
    out = []
    for stated in when:
        keys, operator = _keys(stated.field), operator_of("condition", stated.op)
        said = [_clean(keys, folding)(value) for value in stated.values]
        # The order of a list says nothing, that of two ends does.
        out.append((*keys, *operator, frozenset(said) if operator[0] == "in list" else tuple(said)))
    return frozenset(out)


def _clean(keys: tuple[str, ...], folding: bool) -> Callable[[str], str]:
    """What is done to values of a field before they are compared: hosts and the medium always fold (R2)."""
    if keys and keys[0] in (REFERRER, LANDING):
        return lambda text: ascii_host(fold(text))
    return fold if keys and keys[0] in ("medium", PAGE) else same_as(folding)


def _keys(field: str) -> tuple[str, ...]:
    """Where a field stands in what is seen; an extra value may be a parameter or an extra tag. Empty if unknown."""
    kind, colon, name = field.partition(":")
    kind, name = fold(kind), fold(name)
    if colon:
        if not name or kind + colon not in (PARAMETER, EXTRA):
            return ()
        return (PARAMETER + name,) if kind + colon == PARAMETER else (PARAMETER + name, PARAMETER + f"utm_{name}")
    plain = collapse(kind.replace("_", " ").replace("-", " ")).removeprefix("utm ")
    plain = MARK if plain == "click mark present" else plain
    return (plain,) if plain in (*FIELDS, REFERRER, LANDING, PAGE, MARK) else ()


def conditions_of(reading: Reading) -> list[Condition]:
    """All conditions that look at arrivals."""
    stated = [rule.when for rule in (*reading.channels, *reading.shared_channels)]
    stated += [legend.when for legend in reading.legends] + [rule.when for rule in reading.quarantine]
    token = Condition(f"{PARAMETER}{reading.test_parameter}", "is there")
    # A parameter that a legend reads is looked for as one that a condition asks for.
    keys = [Condition(field, "is there") for legend in reading.legends for field, _ in legend.roles]
    read = [one for one in keys if fold(one.field).startswith(PARAMETER)]
    return [one for when in stated for one in when] + read + ([token] if reading.test_parameter else [])


def _yes_no(where: str, value: str) -> str:
    word = fold(value)
    if word in ("true", "yes", "1"):
        return "yes"
    if word in ("false", "no", "0", ""):
        return ""
    raise SettingsError(f"{where}: click mark present is compared with true or false, not {value!r}")
