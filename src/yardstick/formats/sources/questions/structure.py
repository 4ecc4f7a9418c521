"""Columns that a table must have and no column of the file is: asked, with what there is to pick from."""

from __future__ import annotations

import re
from collections.abc import Iterable

from yardstick.core.base.schema import ROW_ID, SCHEMA
from yardstick.core.plan.plan import Plan

from ...cells.plain_words import plain_words
from .look import Look, called, columns_of
from .question import Asking, FileQuestion, Record, put_field, said

TEXTS = {
    "platform": "No column names the platform: which is it?",
    "campaign": "No column names the campaign: which is it?",
    "goal": "No column names the goal: which do these conversions have?",
}


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    table = str(record["table"])
    columns = columns_of(look, record)
    split = {name for one in record.get("split", []) for name in one["into"]}
    joined = {one["into"] for one in record.get("join", [])}
    there = {called(table, c) for c in columns} | split | joined
    constant = record.get("constant", {})
    for column in SCHEMA[table]:
        name = column.called
        if not column.required or name in there or constant.get(name):
            continue
        if column.name == ROW_ID.get(table) and record.get("id"):
            continue
        free = _free_words(look, columns) if column.name == "campaign" else []
        if free:
            yield FileQuestion(f"columns.{name}", "No column is called campaign: which one names it?", free)
        elif column.name in TEXTS:
            yield FileQuestion(f"constant.{name}", TEXTS[column.name], _offered(column.name, plan), free=True)
        else:
            text = f"No column was found for {name.replace('_', ' ')}: which is it?"
            yield FileQuestion(f"columns.{name}", text, list(look.names))
    for name, text in constant.items():
        if name in TEXTS and said(record, f"constant.{name}"):
            yield FileQuestion(f"constant.{name}", TEXTS[name], _offered(name, plan), answer=text, free=True)


def _free_words(look: Look, columns: dict[str, int]) -> list[str]:
    """Columns of words that nothing is read from."""
    free = [i for i in range(len(look.names)) if i not in columns.values()]
    return [look.names[i] for i in free if look.contents[i].what == "word"]


def _offered(column: str, plan: Plan) -> list[str]:
    if column == "platform":
        return list(dict.fromkeys(p.name for p in plan.costing.platforms))
    if column == "goal":
        return list(dict.fromkeys(g.name for g in plan.goals if g.kind == "sale")) or ["sale"]
    return []


def platform_named(texts: Iterable[str], plan: Plan) -> str:
    """The platform that a file's name or the lines above its header name; empty where none or several are."""
    said_there = [plain_words(re.sub(r"[\d_]+", " ", text[:400])) for text in texts]
    names = list(dict.fromkeys(p.name for p in plan.costing.platforms))
    found = [name for name in names if any(f" {plain_words(name)} " in f" {text} " for text in said_there)]
    return found[0] if len(found) == 1 else ""


ASKING = Asking(("columns.", "constant."), _ask, put_field)
