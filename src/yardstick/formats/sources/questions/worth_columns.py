"""Which column says what a row is worth, or how many there were, where more than one could."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from yardstick.core.base.schema import SCHEMA, Kind
from yardstick.core.plan.plan import Plan

from ...cells.currencies_in import marks_of
from ...cells.money_words import is_part, is_price, is_unit
from ...cells.plain_words import plain_words
from ...rows.worth import MONEY
from ..scoring import phrases_of, score
from .look import Look, called, columns_of, kinds_of
from .question import Asking, FileQuestion, Record, put_field, said

NONE = "none of them"
ADDED = (Kind.AMOUNT, Kind.COST, Kind.COUNT)


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    table = str(record["table"])
    columns, kinds = columns_of(look, record), kinds_of(table)
    worth = MONEY.get(table, "")
    split = {fold_name for one in record.get("split", []) for fold_name in [one["column"]]}
    free = [i for i, name in enumerate(look.names) if i not in columns.values() and name not in split]
    for column in SCHEMA[table]:
        if column.kind not in ADDED or kinds[column.name] is Kind.PRICE:
            continue
        field = f"columns.{column.called}"
        mine = columns.get(column.name)
        if column.name == worth:
            others = _money(look, record, free, table, worth)
        else:
            others = (
                [] if mine is None or _exact(look, mine, table, column.name) else _named(look, free, table, column.name)
            )
        answered = said(record, field)
        if answered:
            options = list(dict.fromkeys([look.names[i] for i in [*([mine] if mine is not None else []), *others]]))
            if column.name == worth or options:
                yield _question(look, record, field, column.name, options, table, answer=answered)
            continue
        if mine is None and column.name == worth and not others and not _estimated(columns):
            # A price or an average is taken for what a row is worth only where somebody says so.
            others = _units(look, free, table, worth)
        if mine is None and column.name == worth and others and not _estimated(columns):
            yield _question(look, record, field, column.name, [look.names[i] for i in others], table)
        elif mine is not None:
            total = look.total(mine, record)
            rivals = [i for i in others if _rivals(look, record, i, total, table, column.name)]
            if column.name == worth and is_unit(look.names[mine], plain_words(look.names[mine])):
                yield _question(look, record, field, column.name, [look.names[i] for i in [mine, *others]], table)
            elif rivals and not _proved(look, record, mine, rivals, columns):
                yield _question(look, record, field, column.name, [look.names[i] for i in [mine, *rivals]], table)
            elif column.name == worth and look.whole and look.lines and not total and _any_money(look, record, others):
                yield _question(look, record, field, column.name, [look.names[i] for i in [mine, *others]], table)


def _estimated(columns: dict[str, int]) -> bool:
    return "click_price" in columns and "clicks" in columns


def _question(
    look: Look, record: Record, field: str, column: str, options: list[str], table: str, answer: str = ""
) -> FileQuestion:
    what = called(table, column).replace("_", " ")
    if len(options) == 1:
        text = f"Is {options[0]} the {what} of a row?"
    else:
        text = f"Several columns could be the {what} of a row: which is it?"
    places = [look.place(name) for name in options]
    hints = [look.says(at, record) if at >= 0 else "" for at in places]
    return FileQuestion(field, text, [*options, NONE], [*hints, "nothing is counted"], answer=answer)


def _money(look: Look, record: Record, free: list[int], table: str, worth: str) -> list[int]:
    """Columns that nothing is read from and that could be what rows are worth."""
    out = []
    for i in free:
        words = plain_words(look.names[i])
        if look.contents[i].what != "number" or is_unit(look.names[i], words) or is_part(words):
            continue
        if score(look.names[i], phrases_of(table, worth)) or _looks_like_money(look, i):
            out.append(i)
    return out


def _units(look: Look, free: list[int], table: str, worth: str) -> list[int]:
    """Columns whose names say what one thing is worth."""
    return [
        i
        for i in free
        if look.contents[i].what == "number"
        and score(look.names[i], phrases_of(table, worth))
        and "%" not in look.names[i]
    ]


def whole_of(look: Look, record: Record) -> int:
    """The column that is what rows are worth with tax or shipping on top, as rows themselves say; -1 where none is."""
    table = str(record["table"])
    columns, worth = columns_of(look, record), MONEY.get(table, "")
    mine = columns.get(worth)
    if mine is None or not look.lines:
        return -1
    for at in range(len(look.names)):
        if (
            at not in columns.values()
            and look.contents[at].what == "number"
            and _proved(look, record, at, [mine], columns)
        ):
            return at
    return -1


def _looks_like_money(look: Look, at: int) -> bool:
    """Whether cells have a sign or code beside them, or decimals as amounts have."""
    import pyarrow as pa

    cells = look.filled(at)[:500]
    if not cells:
        return False
    marked = sum(bool(mark) for mark in marks_of(pa.array(cells, pa.string())).to_pylist())
    if marked >= 0.5 * len(cells):
        return not any("%" in cell for cell in cells)
    ends = [cell[-3:] for cell in cells if cell[-3:-2] in (".", ",") and cell[-2:].isdigit()]
    return len(ends) >= 0.6 * len(cells) and len(set(cells)) > 1


def _named(look: Look, free: list[int], table: str, column: str) -> list[int]:
    return [
        i
        for i in free
        if look.contents[i].what == "number"
        and score(look.names[i], phrases_of(table, column))
        and not is_unit(look.names[i], plain_words(look.names[i]))
    ]


def _exact(look: Look, at: int, table: str, column: str) -> bool:
    return score(look.names[at], phrases_of(table, column)) >= 12


def _rivals(look: Look, record: Record, at: int, total: Decimal, table: str, column: str) -> bool:
    """Whether a column's name says the same, and its sum something else."""
    said_so = score(look.names[at], phrases_of(table, column))
    if not said_so or (column == "total" and is_price(plain_words(look.names[at]))):
        return False
    return look.total(at, record) != total


def _proved(look: Look, record: Record, mine: int, rivals: list[int], columns: dict[str, int]) -> bool:
    """Whether rows themselves say which is the whole: it is the other with tax and shipping on top."""
    parts = [columns[name] for name in ("tax", "shipping") if name in columns]
    whole = look.numbers(mine, record)
    for rival in rivals:
        less = look.numbers(rival, record)
        added = [look.numbers(at, record) for at in parts]
        for some in ([*added], *([one] for one in added)):
            rows = zip(whole, less, *some, strict=True)
            if some and all(
                a is not None and a == sum((n or Decimal(0) for n in rest), Decimal(0)) for a, *rest in rows
            ):
                break
        else:
            return False
    return bool(rivals)


def _any_money(look: Look, record: Record, others: list[int]) -> bool:
    return any(look.total(at, record) for at in others)


def _put(record: Record, field: str, answer: str) -> Record:
    return put_field(record, field, "" if answer == NONE else answer)


ASKING = Asking(("columns.",), _ask, _put)
