"""Conditions on a text, as channel rules, legends and filters state them: an operator, and what it is held against."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation

from .errors import SettingsError
from .expressions import Expression
from .words import fold

OPERATORS = (
    "is there",
    "is",
    "in list",
    "contains",
    "begins with",
    "ends with",
    "between",
    "is empty",
    "matches",
)
NEGATIONS = {
    "is not there": "is there",
    "is not": "is",
    "not in list": "in list",
    "does not contain": "contains",
    "does not begin with": "begins with",
    "does not end with": "ends with",
    "is not between": "between",
    "is not empty": "is empty",
    "does not match": "matches",
}
EARLIER = {"is one of": "in list", "is none of": "not in list", "is not one of": "not in list"}
"""Words that were written before, and are read for the operators they became."""
OFFERED = tuple(word for op in OPERATORS for word in (op, next(n for n, of in NEGATIONS.items() if of == op)))
"""The one set of operators, as every door offers it: each with what negates it."""
WORDS = (*OPERATORS, *NEGATIONS, *EARLIER)
"""Everything that is read as an operator."""
SEVERAL = ("in list", "between")
"""Operators that are held against several values."""

SHOWN = 60
"""Characters of an expression that a message repeats."""


@dataclass(frozen=True)
class Test:
    """Whether a value passes; None = what is asked is not there."""

    _holds: Callable[[str | None], bool]
    _clean: Callable[[str], str] = str
    _expression: Expression | None = None

    def __call__(self, text: str | None) -> bool:
        """Whether a value passes."""
        return self._holds(text)

    @property
    def learns(self) -> bool:
        """Whether it is faster for many values at once."""
        return self._expression is not None

    def learn(self, texts: Iterable[str | None]) -> None:
        """Get ready for many values at once: an expression is matched with all of them in one go."""
        if self._expression is not None:
            self._expression.learn(self._clean(text or "") for text in texts)

    def of_each(self, texts: Sequence[str | None]) -> list[bool]:
        """Which of several values pass."""
        self.learn(texts)
        return [self._holds(text) for text in texts]


def operator_of(where: str, op: str) -> tuple[str, bool]:
    """The operator behind a word, and whether it is to hold (or not to).

    Raises
    ------
    SettingsError
        If there is no such operator.
    """
    word = EARLIER.get(fold(op), fold(op))
    operator = NEGATIONS.get(word, word)
    if operator not in OPERATORS:
        raise SettingsError(f"{where}: unknown operator {op!r}; operators are {', '.join(OFFERED)}")
    return operator, word not in NEGATIONS


def condition(where: str, op: str, values: tuple[str, ...], clean: Callable[[str], str]) -> Test:
    """A test of a text.

    Parameters
    ----------
    where : what states the condition, for messages
    op : one of `WORDS`, whatever the case
    values : what the text is held against
    clean : what is done to both before they are compared

    Raises
    ------
    SettingsError
        If there is no such operator, it has the wrong number of values, or an expression cannot be read.

    Notes
    -----
    What is not there is empty to every operator but *is there*.
    """
    operator, wanted = operator_of(where, op)
    if operator in ("is there", "is empty"):
        if values:
            raise SettingsError(f"{where}: {op!r} takes no value")
        if operator == "is there":
            return Test(lambda text: (text is not None) == wanted)
        return Test(lambda text: (not clean(text or "")) == wanted)
    test = _test(where, operator, values, clean)
    expression = test if isinstance(test, Expression) else None
    return Test(lambda text: test(clean(text or "")) == wanted, clean, expression)


def _test(where: str, operator: str, values: tuple[str, ...], clean: Callable[[str], str]) -> Callable[[str], bool]:
    if operator == "between" and len(values) != 2:
        raise SettingsError(f"{where}: 'between' needs two values, the least and the greatest")
    if not values or (operator not in SEVERAL and len(values) != 1):
        raise SettingsError(f"{where}: {operator!r} needs {'a list of values' if operator in SEVERAL else 'one value'}")
    if operator == "matches":
        try:
            return Expression(values[0], ignore_case=clean is fold)
        except ValueError as problem:
            shown = values[0] if len(values[0]) <= SHOWN else values[0][:SHOWN] + "…"
            raise SettingsError(f"{where}: the expression {shown!r} cannot be read: {problem}") from None
    wanted = [clean(value) for value in values]
    first = wanted[0]
    tests: dict[str, Callable[[str], bool]] = {
        "is": lambda text: text == first,
        "in list": lambda text: text in wanted,
        "contains": lambda text: first in text,
        "begins with": lambda text: text.startswith(first),
        "ends with": lambda text: text.endswith(first),
        "between": _between(first, wanted[-1]),
    }
    return tests[operator]


def _between(low: str, high: str) -> Callable[[str], bool]:
    """Both ends included: by number where both ends are numbers, else by code point, which puts ISO days in order."""
    least, most = _number(low), _number(high)
    if least is None or most is None:
        return lambda text: low <= text <= high

    def holds(text: str) -> bool:
        number = _number(text)
        return number is not None and least <= number <= most

    return holds


def _number(text: str) -> Decimal | None:
    try:
        number = Decimal(text)
    except InvalidOperation:
        return None
    return number if number.is_finite() else None
