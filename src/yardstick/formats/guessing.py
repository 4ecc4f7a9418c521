"""How a file that no source fits may be meant to be read: guessed from the names of its columns and from its cells.

A guess is shown and can be changed; nothing is kept by it before somebody has seen it. What the file does not decide
is asked about.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import PurePath
from typing import Any, BinaryIO

from yardstick.core.base.tables import ROW_ID, SCHEMA, Kind
from yardstick.core.base.words import fold
from yardstick.core.plan.plan import Plan
from yardstick.core.plan.source_records import DAY_FIRST, MONTH_FIRST, TAG_COLUMNS, YEAR_FIRST

from .cells import is_currency
from .column_words import TABLE_WORDS, WORDS
from .contents import Content, Signs, content_of, fits, is_compact, is_number, is_unix, signs_of
from .date_orders import order_of
from .dates_in import iso_of
from .headers import AS_WRITTEN
from .layouts import layout_of
from .raw import Laid, TableFile
from .readers import open_table

LOOKED_AT = 3_000
"""Rows whose cells are looked at; for the order of dates, all rows."""
_SUMS = "grand total|gesamtsumme|totals|total|summe|sum|gesamt|totaal|totale|somme|suma|soma"
TOTALS = tuple(_SUMS.split("|"))
"""What rows of sums begin with, the longer words first."""
TELLING = ["occurred_at", "email", "visitor_id", "phone", "url", "click_id", "name", "total", "conversion_id", "amount"]
"""Columns that together tell a row, where it has no id."""
_DATES = (Kind.DAY, Kind.INSTANT, Kind.MONTH)


@dataclass(frozen=True)
class Question:
    """What a file does not decide.

    Attributes
    ----------
    field : of the source it is about, such as `date` or `constant.platform`
    text : the question
    options : answers to pick from; empty where one has to be typed
    line : a line of the file that it is asked because of; 0 for none
    """

    field: str
    text: str
    options: list[str]
    line: int = 0


@dataclass
class Guess:
    """How a file may be meant to be read.

    Attributes
    ----------
    record : a source as settings have it
    questions : what has to be said before rows are kept
    notes : what was found out and how, in sentences
    rows : how many rows were looked at
    """

    record: dict[str, Any]
    questions: list[Question] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    rows: int = 0


@dataclass
class _Seen:
    """What was seen of a file: its columns, the first cells of each, and its last rows."""

    names: tuple[str, ...]
    cells: list[list[str]]
    lines: list[int]
    last: list[list[str]]
    odd: list[str]


def guess(file: str, stream: BinaryIO, plan: Plan, table: str = "") -> Guess:
    """Guess how a file is meant.

    Parameters
    ----------
    file : its name
    stream : its bytes
    plan : of the workspace: its platforms, goals and hosts
    table : which table it holds, if somebody said so

    Raises
    ------
    FileProblem
        If it is no table at all.
    """
    laid, above = layout_of(file, stream)
    stream.seek(0)
    seen = _look(open_table(file, stream, AS_WRITTEN, laid))
    contents = [content_of(cells[:500]) for cells in seen.cells]
    wanted = table or _table_of(file, seen, contents)
    columns = _columns_of(wanted, seen, contents)
    out = Guess({"name": _called(file, plan), "table": wanted}, rows=len(seen.lines))
    _say_layout(out, laid)
    _splits(out, wanted, columns, seen)
    order = [*(c.name for c in SCHEMA[wanted]), *TAG_COLUMNS]
    out.record["columns"] = {_called_column(wanted, c): seen.names[columns[c]] for c in order if c in columns}
    _dates(out, wanted, columns, seen, file, stream, laid)
    _numbers(out, wanted, columns, seen, contents)
    _nothing(out, contents)
    _totals(out, wanted, columns, seen)
    _hosts(out, wanted, columns, seen, plan)
    _constants(out, wanted, columns, seen, [PurePath(file).stem, *above], plan)
    _ids(out, wanted, columns, seen)
    return out


def _look(plain: TableFile) -> _Seen:
    names = plain.header.extra
    seen = _Seen(names, [[] for _ in names], [], [], [])
    for raw in plain.batches():
        more = LOOKED_AT - len(seen.lines)
        if more > 0:
            for i, cells in enumerate(seen.cells):
                cells += raw.columns[f"extra {i}"].slice(0, more).to_pylist()
            seen.lines += raw.lines[:more].tolist()
        seen.odd = [*seen.odd, *(r.value for r in raw.rejected)][-5:]
        if len(raw):
            tail = [raw.columns[f"extra {i}"].slice(max(0, len(raw) - 3)).to_pylist() for i in range(len(names))]
            seen.last = [list(row) for row in zip(*tail, strict=True)]
    return seen


def plain_words(text: str) -> str:
    """A name without case, accents, signs and what stands in brackets."""
    text = re.sub(r"\(.*?\)|\[.*?\]", " ", fold(text))
    text = "".join(c for c in unicodedata.normalize("NFKD", text) if not unicodedata.combining(c)).replace("ß", "ss")
    return " ".join(re.sub(r"[^\w]+|_", " ", text).split())


def _score(name: str, phrases: str) -> int:
    """How well a column's name says that it is a certain column."""
    words = plain_words(name)
    best, tokens = 0, words.split()
    stripped = " ".join(t for t in tokens if not is_currency(t.upper()))
    for phrase in phrases.split("|"):
        plain = phrase.strip()
        if words == plain or stripped == plain:
            return 12
        if plain and f" {plain} " in f" {words} ":
            best = max(best, 4 + len(plain.split()))
        elif len(tokens) > 1 and f" {words} " in f" {plain} ":
            best = max(best, 3)
    return best


def _table_of(file: str, seen: _Seen, contents: Sequence[Content]) -> str:
    called = plain_words(PurePath(file).stem)
    scores: dict[str, float] = {}
    for table in SCHEMA:
        columns = _columns_of(table, seen, contents)
        score = sum(_score(seen.names[i], _phrases(table, column)) for column, i in columns.items()) / 2.0
        score += sum(3 for c in SCHEMA[table] if c.required and c.name in columns and c.kind is not Kind.TEXT)
        left_to_say = ("platform", "goal", "account", ROW_ID.get(table, ""))
        score -= sum(8 for c in SCHEMA[table] if c.required and c.name not in columns and c.name not in left_to_say)
        score -= 2.0 * sum(c.required and c.name not in columns for c in SCHEMA[table])
        if any(f" {word} " in f" {called} " for word in TABLE_WORDS[table].split("|")):
            score += 6
        scores[table] = score
    return max(scores, key=lambda t: scores[t])


def _phrases(table: str, column: str) -> str:
    own = next((c.called for c in SCHEMA[table] if c.name == column), column).replace("_", " ")
    return f"{own}|{WORDS[table].get(column, own)}"


def _columns_of(table: str, seen: _Seen, contents: Sequence[Content]) -> dict[str, int]:
    """Which column of a file each column of a table may be: the best pair first, each once."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    wanted = [*kinds, *(TAG_COLUMNS if table == "visits" else ())]
    pairs: list[tuple[int, int, int, str]] = []
    for k, column in enumerate(wanted):
        kind = kinds.get(column, Kind.TEXT)
        for i, name in enumerate(seen.names):
            score = _score(name, _phrases(table, column))
            if not score or not _can_be(kind, column, contents[i], seen.cells[i]):
                continue
            specific = kind not in (Kind.TEXT, Kind.FLAG) and contents[i].what != "nothing"
            pairs.append((score * 2 + specific + (contents[i].what == "mail"), -i, -k, column))
    out: dict[str, int] = {}
    for _, i, _, column in sorted(pairs, reverse=True):
        if column not in out and -i not in out.values():
            out[column] = -i
    _by_contents(table, out, kinds, contents, seen)
    return out


def _can_be(kind: Kind, column: str, content: Content, cells: Sequence[str]) -> bool:
    if kind in _DATES and content.what == "number":
        return bool(is_unix(cells[:200])) or is_compact(cells[:200])
    if column == "email":
        return content.what in ("mail", "nothing")
    if kind is Kind.TEXT and content.what in ("mail", "date") and column not in ("email", "visitor_id"):
        return False
    return fits(content, kind)


def _by_contents(
    table: str, out: dict[str, int], kinds: Mapping[str, Kind], contents: Sequence[Content], seen: _Seen
) -> None:
    """Columns that no name told, where one column of the file alone can be it."""
    for column in SCHEMA[table]:
        special = column.name == "email" or column.kind in (*_DATES, Kind.ADDRESS, Kind.CURRENCY)
        if column.name in out or not special or (not column.required and column.name not in ("email", "currency")):
            continue
        free = [
            i
            for i, content in enumerate(contents)
            if i not in out.values() and content.what != "nothing" and content.what == _WHAT.get(column.kind, "mail")
        ]
        if len(free) == 1:
            out[column.name] = free[0]


_WHAT = {Kind.DAY: "date", Kind.INSTANT: "date", Kind.MONTH: "date", Kind.ADDRESS: "address", Kind.CURRENCY: "currency"}


def _splits(out: Guess, table: str, columns: dict[str, int], seen: _Seen) -> None:
    """Columns that say they hold several, such as *Source / medium*."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    texts = [c for c, kind in kinds.items() if kind is Kind.TEXT] + (list(TAG_COLUMNS) if table == "visits" else [])
    for i, name in enumerate(seen.names):
        by = next((sign for sign in (" / ", "/", " | ", " > ") if sign in name), "")
        cells = [c for c in seen.cells[i] if c.strip()]
        if not by or sum(by.strip() in c for c in cells) < 0.8 * max(1, len(cells)):
            continue
        by = by if all(by in c for c in cells) else by.strip()
        # The first part carries what belongs to all of them, as in *Lead source / medium*.
        parts = [part.strip() for part in name.split(by.strip())]
        into: list[str] = []
        for part in parts:
            # Of equally good ones the later: the last source rather than the first.
            found = max(texts, key=lambda c: (_score(part, _phrases(table, c)), texts.index(c)))
            into.append(found if _score(part, _phrases(table, found)) and found not in into else "")
        if sum(map(bool, into)) < 2:
            continue
        for column in [c for c, at in columns.items() if at == i or c in into]:
            del columns[column]
        names = [_called_column(table, c) if c else "" for c in into]
        out.record.setdefault("split", []).append({"column": name, "by": by, "into": names})
        out.notes.append(f"{name} is split at {by.strip()} into {', '.join(n for n in names if n)}.")


def _called(file: str, plan: Plan) -> str:
    words = re.sub(r"[\d]+|[_.\-]+", " ", PurePath(file).stem)
    base = " ".join(words.split()).strip() or "export"
    taken = {fold(source.name) for source in plan.gathering.sources}
    name, number = base, 2
    while fold(name) in taken:
        name, number = f"{base} {number}", number + 1
    return name


def _called_column(table: str, column: str) -> str:
    return next((c.called for c in SCHEMA[table] if c.name == column), column)


def _say_layout(out: Guess, laid: Laid) -> None:
    said = {"encoding": laid.encoding, "delimiter": laid.delimiter, "sheet": laid.sheet, "skip_top": laid.skip_top}
    out.record |= {name: value for name, value in said.items() if value}
    if laid.skip_top:
        out.notes.append(f"The header stands on line {laid.skip_top + 1}; what is above is left out.")
    if laid.encoding:
        out.notes.append(f"It is no UTF-8: read as {laid.encoding}.")


def _dates(
    out: Guess, table: str, columns: Mapping[str, int], seen: _Seen, file: str, stream: BinaryIO, laid: Laid
) -> None:
    """The order of days, by the cells of all columns that hold some."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    dated = [i for column, i in columns.items() if kinds.get(column) in _DATES]
    for i in dated:
        unix = is_unix(seen.cells[i])
        if unix:
            out.record["date"] = unix
            out.notes.append(f"{seen.names[i]} counts {unix.removeprefix('unix ')} since 1970.")
            return
    stream.seek(0)
    batches = open_table(file, stream, AS_WRITTEN, laid).batches() if dated else iter(())
    found = order_of((raw.columns[f"extra {i}"], raw.lines) for raw in batches for i in dated)
    if found.order:
        out.record["date"] = found.order
    names = ", ".join(seen.names[i] for i in dated)
    if found.decides:
        out.notes.append(f"{names}: {found.order}; line {found.decides} decides.")
    if found.question:
        out.questions.append(Question("date", found.question, [DAY_FIRST, MONTH_FIRST], found.line))


def _numbers(out: Guess, table: str, columns: Mapping[str, int], seen: _Seen, contents: Sequence[Content]) -> None:
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    numeric = (Kind.AMOUNT, Kind.COST, Kind.PRICE, Kind.RATE, Kind.COUNT)
    mine = [i for column, i in columns.items() if kinds.get(column) in numeric]
    cells = [cell for i in mine for cell in seen.cells[i]]
    signs: Signs = signs_of(cells)
    if signs.decimal != ".":
        out.record["decimal"] = signs.decimal
    if signs.thousands:
        out.record["thousands"] = signs.thousands
    if any(contents[i].signs for i in mine):
        out.record["currency_signs"] = True
    if signs.unsure:
        line = next((n for i in mine for c, n in zip(seen.cells[i], seen.lines, strict=True) if c == signs.unsure), 0)
        text = f"Line {line} says {signs.unsure}: does its sign stand before decimals, or between thousands?"
        out.questions.append(Question("decimal", text, [signs.decimal, signs.thousands], line))
    for i in mine:
        code = next(
            (t.upper() for t in re.findall(r"[A-Za-z]{3}", seen.names[i]) if is_currency(t.upper()) and t.isupper()), ""
        )
        if code and "currency" in kinds and "currency" not in columns:
            out.record["currency"] = code
            out.notes.append(f"{seen.names[i]} says {code}.")
            break


def _nothing(out: Guess, contents: Iterable[Content]) -> None:
    words = sorted({word for content in contents for word in content.nothing})
    if words:
        out.record["nothing"] = words


def _totals(out: Guess, table: str, columns: Mapping[str, int], seen: _Seen) -> None:
    """A row of sums at the end, or right under the header: one that has no day where the others have one."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    dated = [i for column, i in columns.items() if kinds.get(column) in _DATES]
    rows = [*seen.last[-2:], *([[cells[0] for cells in seen.cells]] if seen.lines else [])]
    firsts = [row[0] for row in rows if not any(_has_day(row[i]) for i in dated)]
    firsts += [odd.lstrip('"').replace('"', "") for odd in seen.odd]
    for cell in firsts:
        words = plain_words(cell)
        found = next((t for t in TOTALS if f"{words} ".startswith(f"{t} ")), "")
        if found and not is_number(cell):
            written = re.match(r"[^\W\d_]+(?:\s[^\W\d_]+)?", cell.strip())
            whole = written is not None and plain_words(written[0]) in TOTALS
            out.record["total"] = written[0] if written and whole else cell.strip()[: len(found)]
            out.notes.append(f"Rows that begin with {out.record['total']} are sums, no rows.")
            return


def _has_day(cell: str) -> bool:
    return any(iso_of(cell.strip(), order) for order in (YEAR_FIRST, DAY_FIRST, MONTH_FIRST)) if cell.strip() else False


def _hosts(out: Guess, table: str, columns: Mapping[str, int], seen: _Seen, plan: Plan) -> None:
    if table != "visits" or "url" not in columns:
        return
    cells = [c.strip() for c in seen.cells[columns["url"]] if c.strip()]
    bare = [c for c in cells if not re.match(r"https?://", c, re.IGNORECASE)]
    with_host = next((c for c in bare if not c.startswith(("/", "?"))), "")
    if with_host:
        out.record["url_host"] = re.split(r"[/?#]", with_host)[0]
        out.notes.append("Addresses have no scheme: https:// is put before them.")
    elif bare and plan.reading.own_hosts:
        out.record["url_host"] = plan.reading.own_hosts[0]
        out.notes.append(f"Addresses are paths: {out.record['url_host']} is put before them.")


def _constants(
    out: Guess, table: str, columns: Mapping[str, int], seen: _Seen, texts: Sequence[str], plan: Plan
) -> None:
    constant: dict[str, str] = {}
    for column in SCHEMA[table]:
        if not column.required or column.name in columns:
            continue
        if column.name == "platform":
            names = list(dict.fromkeys(p.name for p in plan.costing.platforms))
            said = [plain_words(t) for t in texts]
            found = [n for n in names if any(f" {plain_words(n)} " in f" {t} " for t in said)]
            if len(found) == 1:
                constant["platform"] = found[0]
                out.notes.append(f"{found[0]} is named in the file: its rows are that platform's.")
            else:
                out.questions.append(Question("constant.platform", "No column names the platform: which is it?", names))
        elif column.name == "goal":
            goals = [g.name for g in plan.goals if g.kind == "sale"] or ["sale"]
            constant["goal"] = goals[0]
            if len(set(goals)) > 1:
                text = "No column names the goal: which do these conversions have?"
                out.questions.append(Question("constant.goal", text, list(dict.fromkeys(goals))))
        elif column.name == "campaign":
            out.questions.append(Question("constant.campaign", "No column names the campaign: which is it?", []))
        elif column.name != ROW_ID.get(table):
            text = f"No column was found for {column.called}: pick it, or say what always stands there."
            out.questions.append(Question(f"columns.{column.called}", text, list(seen.names)))
    if constant:
        out.record["constant"] = constant


def _ids(out: Guess, table: str, columns: Mapping[str, int], seen: _Seen) -> None:
    own = ROW_ID.get(table)
    if own is None:
        return
    if own in columns:
        cells = [c.strip() for c in seen.cells[columns[own]] if c.strip()]
        if len(set(cells)) >= 0.5 * len(seen.lines) or not seen.lines:
            return
        # A name that says id, but of something that comes again and again.
        out.record["columns"].pop(own, None)
    named = [_called_column(table, c) for c in TELLING if c in columns and c != own]
    out.record["id"] = named or [seen.names[0]]
    out.notes.append(f"No column is an id: rows are told apart by {', '.join(out.record['id'])}.")
