"""All subjects of questions, and the two things done with them: asking, and taking an answer."""

from __future__ import annotations

from collections.abc import Sequence

from yardstick.core.plan.plan import Plan

from . import amounts, currencies, dates, other_source, placeholders, structure, sums, worth_columns
from .look import Look
from .question import Asking, FileQuestion, Record, put_field, said

SUBJECTS: tuple[Asking, ...] = (
    other_source.ASKING,
    structure.ASKING,
    worth_columns.ASKING,
    currencies.ASKING,
    sums.ASKING,
    amounts.ASKING,
    dates.ASKING,
    placeholders.ASKING,
)


def questions_of(look: Look, record: Record, plan: Plan, asked: Sequence[FileQuestion] = ()) -> list[FileQuestion]:
    """What a file that is read by a record leaves open, and what was said of it: the open ones first.

    Parameters
    ----------
    look : of the file
    record : by which it is read
    plan : of the workspace
    asked : what was asked when it was guessed at; of these what was answered is shown as such
    """
    out: dict[str, FileQuestion] = {}
    for question in asked:
        answer = said(record, question.field)
        out[question.field] = FileQuestion(
            question.field, question.text, question.options, question.hints, question.line, answer, question.free
        )
    for subject in SUBJECTS:
        for question in subject.ask(look, record, plan):
            if question.field not in out or (question.open and not out[question.field].open):
                out[question.field] = question
    return sorted(out.values(), key=lambda q: not q.open)


def answered(record: Record, field: str, answer: str) -> Record:
    """The record after an answer, which is kept with it."""
    section = field.partition(".")[0]
    put = next((s.put for s in reversed(SUBJECTS) if field in s.fields or f"{section}." in s.fields), _plain)
    return put(record, field, answer) | {"answers": {**record.get("answers", {}), field: answer}}


def _plain(record: Record, field: str, answer: str) -> Record:
    """Questions of guessing: the field itself."""
    if field == "decimal":
        return record | {"decimal": answer, "thousands": "." if answer == "," else ","}
    return put_field(record, field, answer)


def settled_by_hand(before: Record, after: Record, open_fields: Sequence[str]) -> Record:
    """The record with answers for questions whose field was changed itself: a question is answered where it is said."""
    out = dict(after.get("answers", {}))
    for field in open_fields:
        section, _, key = field.partition(".")
        was, now = before.get(section), after.get(section)
        if key:
            was, now = (was or {}).get(key), (now or {}).get(key)
        if field not in out and now != was and now not in (None, ""):
            out[field] = str(now) if not isinstance(now, list | dict | bool) else "said"
    return after | {"answers": out} if out else after
