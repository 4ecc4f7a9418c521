"""The findings of a board: what each kind says, by which rule, which place mends it, and its rows."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from yardstick.core.base.notes import Finding
from yardstick.core.base.words import fold
from yardstick.core.report.weigh import Result
from yardstick.formats.results.csv_out import FINDING_COLUMNS, finding_rows

from .question_words import asked_of, file_name
from .record_tables import RecordTable
from .shown_board import data_days
from .weigh_board import BoardQuestion

Place = Literal["plan", "mark", "gather"]


@dataclass(frozen=True)
class FindingKind:
    """A kind of finding.

    Attributes
    ----------
    words : what it is, for the head of its rows
    about : what it does to the figures, and what mends it
    rule : number of the rule that finds it
    place : the station that mends it
    """

    words: str
    about: str
    rule: str
    place: Place


KINDS: dict[str, FindingKind] = {
    "unfilled_slot": FindingKind(
        "slot never filled", "The value reads as empty. Mend the pattern or ad that made the link.", "R4", "mark"
    ),
    "slot_inside": FindingKind(
        "slot inside a value", "The value is kept as it came. Mend the pattern or ad that made the link.", "R4", "mark"
    ),
    "wrong_case_name": FindingKind(
        "tag name in the wrong case", "It is read; other programs may not. Write it in small letters.", "R1", "mark"
    ),
    "repeated_name": FindingKind(
        "tag name twice in one address",
        "The first filled one counts. Take the other out of the link.",
        "R1",
        "mark",
    ),
    "not_allowed": FindingKind(
        "value that the plan does not allow", "It counts under its own name. Rename it, or allow it.", "R2", "plan"
    ),
    "naming_pattern": FindingKind(
        "value that breaks the naming pattern",
        "It counts as it is. Rename it, or mend the link.",
        "R2",
        "plan",
    ),
    "value_spelling": FindingKind(
        "value spelt against the plan", "It counts. Mend the link, or change the plan's spelling.", "R2", "plan"
    ),
    "shared_identifier": FindingKind(
        "identifier of too many people", "It joins nobody: each row is a person by its other identifiers.", "R6", "plan"
    ),
    "unlisted_status": FindingKind(
        "status word without a meaning",
        "It counts. Say in the plan what it means.",
        "R10",
        "plan",
    ),
    "unlisted_goal": FindingKind(
        "goal that the plan does not list", "It counts as a sale, every time, net. List it in the plan.", "R10", "plan"
    ),
    "negative_refund": FindingKind(
        "refund with a minus", "It is read without its sign, and taken off.", "R10", "gather"
    ),
    "negative_total": FindingKind(
        "order with a total below 0", "It is worth 0. Say in its source whether it is a refund.", "R10", "gather"
    ),
    "refund_of_unknown_order": FindingKind(
        "refund of an unknown order", "It lowers nothing. Load the order, or undo the refund's load.", "R10", "gather"
    ),
    "lines_of_unknown_order": FindingKind(
        "order lines of an unknown order", "They stand in no figure. Load the order.", "R23", "gather"
    ),
    "lines_differ_from_order": FindingKind(
        "order lines that differ from their order",
        "The order's own total holds. Load the right lines.",
        "R23",
        "gather",
    ),
    "replaced_row": FindingKind(
        "row that a later one took the place of",
        "The later row counts. Undo its load if it is wrong.",
        "R20",
        "gather",
    ),
    "passed_over": FindingKind(
        "rejected row beside one that stands", "The other row counts until this one can be read.", "R20", "gather"
    ),
    "several_levels": FindingKind(
        "level of spend that says less than another",
        "The highest counts. Look which level is whole.",
        "R18",
        "gather",
    ),
    "price_yields": FindingKind(
        "price per click that yields", "The cost that the platform reports counts on those days.", "R19", "plan"
    ),
    "sum_left_out": FindingKind(
        "sum inside the rows, left out",
        "It is in no figure. Say in its source if it is a row.",
        "R18",
        "gather",
    ),
    "may_be_a_sum": FindingKind(
        "row that may be a sum of others", "It counts. Answer in its source if it is a sum.", "R18", "gather"
    ),
    "no_rows": FindingKind("file without rows", "Nothing came of it. Export it anew.", "R27", "gather"),
    "identical_row": FindingKind("row given twice", "It counts once.", "R27", "gather"),
    "no_offset": FindingKind(
        "time without an offset", "It is read in its source's zone. Set the zone if it is another.", "R21", "gather"
    ),
    "clock_change": FindingKind(
        "time in the hour of a clock change", "The earlier instant is taken. Export with offsets.", "R21", "gather"
    ),
}
"""Every kind of finding a board can have, by its code; amounts are all in the home currency."""


@dataclass(frozen=True)
class FindingGroup:
    """The findings of one kind: how many, and what they add up to in minor units of the home currency."""

    code: str
    kind: FindingKind
    count: int
    amount: int


def grouped(findings: Iterable[Finding]) -> list[FindingGroup]:
    """Findings by kind: those with the largest amount first, then the most frequent."""
    counts: dict[str, int] = {}
    amounts: dict[str, int] = {}
    for one in findings:
        counts[one.code] = counts.get(one.code, 0) + 1
        amounts[one.code] = amounts.get(one.code, 0) + (one.amount or 0)
    groups = [FindingGroup(code, KINDS[code], count, amounts[code]) for code, count in counts.items()]
    return sorted(groups, key=lambda g: (-g.amount, -g.count, g.code))


def rows_of(findings: Iterable[Finding], code: str, find: str = "") -> list[Finding]:
    """The findings of one kind, of all kinds without a code, in their order; only those with a text in their row,
    field, value or file, however it is written."""
    mine = (one for one in findings if not code or one.code == code)
    wanted = fold(find)
    if not wanted:
        return list(mine)
    return [one for one in mine if any(wanted in fold(said) for said in (one.id, one.field, one.value, one.file))]


def findings_file(question: BoardQuestion, result: Result, code: str, workspace: str, kind: str) -> tuple[str, bytes]:
    """The findings of a board as a file, with what was asked; (name without the workspace, content)."""
    asked = asked_of(question, result.plan, data_days(result), workspace, result.fingerprint, result.data)
    rows = finding_rows(rows_of(result.findings, code), result.plan.money.minor_digits)
    table = RecordTable(list(FINDING_COLUMNS), [list(row) for row in rows], frozenset(("amount", "line")))
    name = file_name("findings", code, asked["range_from"], "to", asked["range_to"], result.fingerprint)
    return f"{name}.{kind}", table.beside(asked).file(kind)
