"""Words that stand for an empty cell: in tag columns placeholders of statistics programs, said with their number."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from yardstick.core.plan.gathering_phase import TAG_COLUMNS
from yardstick.core.plan.plan import Plan

from .look import Look, columns_of
from .question import Asking, FileQuestion, Record, said

PLACEHOLDERS = (
    "(not set)",
    "(none)",
    "(direct)",
    "(organic)",
    "(not provided)",
    "[blank]",
    "null",
    "(blank)",
    "(empty)",
)
EMPTY, WRITTEN = "empty", "as written"
_CAPTURED = tuple(
    f"{position}_{name}"
    for position in ("first", "last")
    for name in ("source", "medium", "campaign", "term", "content", "id")
)
TAGS = (*TAG_COLUMNS, *_CAPTURED, "campaign", "ad_group", "ad", "keyword", "placement", "campaign_id")


def placeholders_in(look: Look, record: Record) -> tuple[Counter[str], list[str]]:
    """Placeholders in the tag columns of a file with their number, and the columns that have some."""
    table, columns = str(record["table"]), columns_of(look, record)
    places = [at for column, at in columns.items() if column in TAGS and (table != "ads")]
    out: Counter[str] = Counter()
    names: dict[str, None] = {}
    for at in places:
        found = Counter(cell for c in look.cells[at] if (cell := c.strip().lower()) in PLACEHOLDERS)
        out.update(found)
        names.update(dict.fromkeys([look.names[at]] if found else []))
    for split in record.get("split", []):
        if any(name in TAGS for name in split["into"]):
            at = look.place(split["column"])
            pieces = [
                p.strip().lower()
                for c in (look.cells[at] if at >= 0 else [])
                for p in c.split(split["by"].strip() or " ")
            ]
            found = Counter(p for p in pieces if p in PLACEHOLDERS)
            out.update(found)
            names.update(dict.fromkeys([split["column"]] if found else []))
    return out, list(names)


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    found, names = placeholders_in(look, record)
    if not found:
        return
    nothing = {str(word).strip().lower() for word in record.get("nothing", [])}
    held = said(record, "nothing") or (EMPTY if all(word in nothing for word in found) else "")
    words = ", ".join(f"{word} ({count:,})" for word, count in found.most_common(5))
    where = " and ".join(names[:3])
    yield FileQuestion("nothing", f"In {where} stand {words}: are these cells empty?", [EMPTY, WRITTEN], answer=held)


def with_placeholders(look: Look, record: Record) -> Record:
    """The record with the placeholders of its tag columns among its words for nothing."""
    found, _ = placeholders_in(look, record)
    if not found:
        return record
    return record | {"nothing": sorted({*record.get("nothing", []), *found})}


def _put(record: Record, field: str, answer: str) -> Record:
    if answer == EMPTY:
        return record | {"nothing": sorted({*record.get("nothing", []), *PLACEHOLDERS})}
    return record | {"nothing": [word for word in record.get("nothing", []) if word.lower() not in PLACEHOLDERS]}


ASKING = Asking(("nothing",), _ask, _put)
