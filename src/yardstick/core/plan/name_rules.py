"""Allowed words, naming patterns and the rules of spelling: what a value of a field should look like."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from ..base.words import collapse, fold, same_as
from .reading_phase import Naming, Reading


@dataclass(frozen=True)
class Blemish:
    """What is wrong with a value. `mended` is what it should be, None where only a person can tell."""

    code: str
    field: str
    value: str
    message: str
    mended: str | None = None


class NameRules:
    """The workspace's rules for values of tags.

    Parameters
    ----------
    reading : allowed words, naming patterns, case and spaces
    """

    def __init__(self, reading: Reading) -> None:
        same = same_as(reading.fold)
        self._same = same
        self._case, self._spaces = reading.value_case, reading.value_spaces
        self._allowed = {field: {same(word): collapse(word) for word in words} for field, words in reading.allowed}
        self._namings = {naming.field: naming for naming in reading.namings}

    def words(self, field: str) -> Mapping[str, str]:
        """The allowed words of a field, by what they are compared as; empty if any word is allowed."""
        return self._allowed.get(field, {})

    def blemishes(self, values: Mapping[str, str]) -> list[Blemish]:
        """What is wrong with the values of one address.

        Parameters
        ----------
        values : by field, empty ones are left alone
        """
        out = []
        for field, value in values.items():
            if value:
                out += self._of_value(field, value)
        return out

    def _of_value(self, field: str, value: str) -> list[Blemish]:
        out = []
        allowed, naming = self._allowed.get(field), self._namings.get(field)
        if allowed is not None and self._same(value) not in allowed:
            text = f"{value!r} is not one of the words allowed for {field}"
            out.append(Blemish("not_allowed", field, value, text))
        if naming is not None:
            problem = why_not_named(naming, value, self._same)
            if problem:
                out.append(Blemish("naming_pattern", field, value, f"{field} {value!r}: {problem}"))
        plain = self.spelled(value)
        if plain != value and (allowed is None or collapse(value) not in allowed.values()):
            text = f"{field} {value!r} should be written {plain!r}"
            out.append(Blemish("value_spelling", field, value, text, plain))
        return out

    def spelled(self, value: str) -> str:
        """A value by the rules of case and spaces."""
        out = value.lower() if self._case == "lower" else value
        return "-".join(out.split()) if self._spaces == "none" else out


def why_not_named(naming: Naming, value: str, same: Callable[[str], str] = fold) -> str:
    """Why a value does not follow a naming pattern; empty if it does."""
    pieces = value.split(naming.separator)
    pattern = naming.separator.join(naming.parts)
    if len(pieces) != len(naming.parts):
        return f"it has {len(pieces)} parts, the pattern {pattern} has {len(naming.parts)}"
    allowed = naming.allowed or ((),) * len(naming.parts)
    for part, piece, words in zip(naming.parts, pieces, allowed, strict=True):
        if not piece.strip():
            return f"its part {part} is empty"
        if words and same(piece) not in {same(w) for w in words}:
            return f"its part {part} is {piece!r}; it may be {', '.join(words)}"
    return ""
