"""Conditions on a text, as channel rules and filters state them (R5): an operator, and what it is held against."""

from __future__ import annotations

from collections.abc import Callable

from .errors import SettingsError
from .expressions import expression
from .words import fold

OPERATORS = ("is", "is one of", "contains", "begins with", "ends with", "matches", "is empty")
NEGATIONS = {
    "is not": "is",
    "is none of": "is one of",
    "is not one of": "is one of",
    "does not contain": "contains",
    "does not begin with": "begins with",
    "does not end with": "ends with",
    "does not match": "matches",
    "is not empty": "is empty",
}


def operator_of(where: str, op: str) -> tuple[str, bool]:
    """The operator behind a word, and whether it is to hold (or not to).

    Raises
    ------
    SettingsError
        If there is no such operator.
    """
    word = fold(op)
    operator = NEGATIONS.get(word, word)
    if operator not in OPERATORS:
        raise SettingsError(f"{where}: unknown operator {op!r}; operators are {', '.join([*OPERATORS, *NEGATIONS])}")
    return operator, word not in NEGATIONS


def condition(where: str, op: str, values: tuple[str, ...], clean: Callable[[str], str]) -> Callable[[str], bool]:
    """A test of a text.

    Parameters
    ----------
    where : what states the condition, for messages
    op : one of `OPERATORS` or `NEGATIONS`, whatever the case
    values : what the text is held against
    clean : what is done to both before they are compared

    Raises
    ------
    SettingsError
        If there is no such operator, it has the wrong number of values, or an expression cannot be read.
    """
    operator, wanted = operator_of(where, op)
    test = _test(where, operator, values, clean)
    return lambda text: test(clean(text)) == wanted


def _test(where: str, operator: str, values: tuple[str, ...], clean: Callable[[str], str]) -> Callable[[str], bool]:
    if operator == "is empty":
        if values:
            raise SettingsError(f"{where}: 'is empty' takes no value")
        return lambda text: not text
    if not values or (operator != "is one of" and len(values) != 1):
        raise SettingsError(
            f"{where}: {operator!r} needs {'a list of values' if 'one of' in operator else 'one value'}"
        )
    if operator == "matches":
        try:
            return expression(values[0], ignore_case=clean is fold)
        except ValueError as problem:
            said = str(problem).removeprefix("Invalid regular expression: ")
            raise SettingsError(f"{where}: the expression {values[0]!r} cannot be read: {said}") from None
    wanted = [clean(value) for value in values]
    first = wanted[0]
    tests: dict[str, Callable[[str], bool]] = {
        "is": lambda text: text == first,
        "is one of": lambda text: text in wanted,
        "contains": lambda text: first in text,
        "begins with": lambda text: text.startswith(first),
        "ends with": lambda text: text.endswith(first),
    }
    return tests[operator]
