"""In which currency amounts are, where a file has a sign that several write, two of them, or another than before."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable

import pyarrow as pa

from yardstick.core.base.schema import SCHEMA
from yardstick.core.plan.plan import Plan

from ...cells.cells import is_currency
from ...cells.currencies_in import codes_by_sign, marks_of
from .look import MONEY, Look, columns_of, kinds_of
from .question import Asking, FileQuestion, Record, put_field, said

_CODE = re.compile(r"(?<![A-Za-z])[A-Z]{3}(?![A-Za-z])")
_BEFORE = (
    "currency", "currencies", "wahrung", "devise", "moneda", "valuta",
    "moeda", "waluta", "amounts in", "all amounts", "in "
)  # fmt: skip
KEEP = "as before"


def marks_in(look: Look, record: Record) -> Counter[str]:
    """What stands beside the amounts of a file, with how often."""
    kinds = kinds_of(str(record["table"]))
    out: Counter[str] = Counter()
    for column, at in columns_of(look, record).items():
        if kinds.get(column) in MONEY:
            found = marks_of(pa.array([c.strip() for c in look.cells[at]], pa.string()))
            out.update(mark for mark in found.to_pylist() if mark)
    nothing = {str(word).lower() for word in record.get("nothing", [])}
    return Counter({mark: count for mark, count in out.items() if mark.lower() not in nothing and len(mark) <= 8})


def code_in_header(look: Look, record: Record) -> tuple[str, str]:
    """The code that the name of a column with amounts says, and that name; empty where none or several do."""
    kinds = kinds_of(str(record["table"]))
    found: dict[str, str] = {}
    for column, at in columns_of(look, record).items():
        if kinds.get(column) in MONEY:
            for code in _CODE.findall(look.names[at][:400]):
                if is_currency(code):
                    found.setdefault(code, look.names[at])
    return next(((code, name) for code, name in found.items()), ("", "")) if len(found) == 1 else ("", "")


def code_above(look: Look) -> str:
    """The code that the lines above the header say; empty where none or several do."""
    found = set()
    for text in look.above:
        words = text[:1_000]
        for code in _CODE.findall(words):
            lowered = words.lower()
            if is_currency(code) and (any(word in lowered for word in _BEFORE) or words.strip(" \t,;\"'") == code):
                found.add(code)
    return found.pop() if len(found) == 1 else ""


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    table = str(record["table"])
    if not any(c.name == "currency" for c in SCHEMA[table]):
        return
    home = plan.money.home_currency
    signs = {str(k): str(v) for k, v in record.get("signs", {}).items()}
    if "currency" not in columns_of(look, record):
        yield from _of_signs(look, record, plan, signs)
        header, name = code_in_header(look, record)
        stated = str(record.get("currency", "")) or str(record.get("constant", {}).get("currency", ""))
        answered = said(record, "currency")
        there = header or code_above(look)
        if there and there != (stated or home) and answered != (stated or home):
            where = f"{name} says {there}" if header else f"The lines above the header say {there}"
            text = f"{where}, and its source {stated or home}: which is it?"
            yield FileQuestion("currency", text, [there, stated or home])
        elif answered:
            yield FileQuestion("currency", "In which currency are its amounts?", [answered], answer=answered, free=True)
    if look.before and look.came and not look.came & look.before and not said(record, f"codes.{_joined(look.came)}"):
        now, then = _joined(look.came), _joined(look.before)
        text = f"Its amounts are in {now}; those of this source were in {then} until now: is that so?"
        yield FileQuestion(f"codes.{now}", text, [f"yes, {now}"])


def _joined(codes: Iterable[str]) -> str:
    return " and ".join(sorted(codes))


def _of_signs(look: Look, record: Record, plan: Plan, signs: dict[str, str]) -> Iterable[FileQuestion]:
    """Each sign that is no code is said to be one currency."""
    marks = marks_in(look, record)
    for mark, count in marks.most_common(6):
        if (is_currency(mark) and mark.isascii()) or any(is_currency(part) for part in mark.split()):
            continue
        offered = codes_by_sign().get(mark, ())
        field, answer = f"signs.{mark}", said(record, f"signs.{mark}")
        if not offered and len(marks) == 1 and mark not in signs and not mark.strip("%"):
            continue
        stated = str(record.get("currency", "")) or str(record.get("constant", {}).get("currency", ""))
        if mark not in signs and (stated in offered or (not stated and offered == (plan.money.home_currency,))):
            # What is stated is written so, or nothing but the home currency is.
            continue
        text = f"{mark} stands beside {count:,} of its amounts: which currency is that?"
        if mark not in signs:
            yield FileQuestion(field, text, _first(plan.money.home_currency, offered), free=True)
        elif answer:
            yield FileQuestion(field, text, _first(answer, offered), answer=signs[mark], free=True)


def _first(code: str, offered: Iterable[str]) -> list[str]:
    """Codes to pick from: the likeliest first."""
    rest = [c for c in offered if c != code]
    return [code, *rest] if code in offered or not rest else rest


def settled_signs(look: Look, record: Record, plan: Plan) -> dict[str, str]:
    """Signs whose currency a file settles by itself: a code in its header or title is written so, or the home currency
    is the only one that is."""
    stated = code_in_header(look, record)[0] or code_above(look)
    home, out = plan.money.home_currency, {}
    for mark in marks_in(look, record):
        offered = codes_by_sign().get(mark, ())
        if is_currency(mark) or not offered:
            continue
        if stated and stated in offered:
            out[mark] = stated
        elif offered == (home,):
            out[mark] = home
    return out


def _put(record: Record, field: str, answer: str) -> Record:
    section = field.partition(".")[0]
    if section == "codes":
        return record
    if section == "signs":
        return put_field(record, field, answer.strip().upper()) | {"currency_signs": True}
    return record | {"currency": answer.strip().upper()}


ASKING = Asking(("currency", "signs.", "codes."), _ask, _put)
