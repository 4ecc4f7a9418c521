"""A question about a file, and what every module that asks one gives."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from dataclasses import field as filled
from typing import Any

from yardstick.core.plan.plan import Plan

from .look import Look

Record = dict[str, Any]
"""A source as settings have it."""


@dataclass(frozen=True)
class FileQuestion:
    """What a file does not decide, or what was decided for it and can be decided otherwise.

    Attributes
    ----------
    field : what it is about, such as `date` or `constant.platform`; one question a field
    text : the question
    options : answers to pick from; empty where one has to be typed
    hints : beside each option what it comes to; empty where there is nothing to say
    line : a line of the file that it is asked because of; 0 for none
    answer : what was said, or what holds until something else is said; empty while it is open
    free : whether something else than the options may be said
    """

    field: str
    text: str
    options: list[str]
    hints: list[str] = filled(default_factory=list)
    line: int = 0
    answer: str = ""
    free: bool = False

    @property
    def open(self) -> bool:
        """Whether it holds the file back."""
        return not self.answer


@dataclass(frozen=True)
class Asking:
    """One subject of questions.

    Attributes
    ----------
    fields : what its questions are about: a field, or `field.` for one with a name behind it
    ask : gives the questions of a file that is read by a record
    put : gives the record after an answer: (record, field, answer) -> record
    """

    fields: tuple[str, ...]
    ask: Callable[[Look, Record, Plan], Iterable[FileQuestion]]
    put: Callable[[Record, str, str], Record]


def said(record: Record, name: str) -> str:
    """What was answered to a question before."""
    return str(record.get("answers", {}).get(name, ""))


def put_field(record: Record, name: str, answer: str) -> Record:
    """The record with a field, or a name of a table in it, having an answer."""
    section, _, key = name.partition(".")
    return record | {section: record.get(section, {}) | {key: answer} if key else answer}
