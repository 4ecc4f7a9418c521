"""How a file that no source fits may be meant to be read: guessed from the names of its columns and from its cells.

A guess is shown and can be changed; nothing is kept by it before somebody has seen it. What the file does not decide
is asked about (`questions`).
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import PurePath
from typing import Any, BinaryIO

from yardstick.core.base.schema import ROW_ID, SCHEMA, Kind
from yardstick.core.plan.gathering_phase import DAY_FIRST, MONTH, MONTH_FIRST, TAG_COLUMNS, WEEK, YEAR_FIRST
from yardstick.core.plan.plan import Plan

from ..cells.column_words import TABLE_WORDS
from ..cells.contents import Content, Signs, fits, is_compact, is_number, is_unix, signs_of
from ..cells.dates_in import iso_of
from ..cells.money_words import is_price, is_unit
from ..cells.plain_words import plain_words
from ..files.headers import AS_WRITTEN
from ..files.raw import FileLayout, FileProblem
from ..files.readers import layout_of, open_table
from ..rows.worth import MONEY
from .aggregates import why_aggregated
from .date_orders import order_of
from .questions.currencies import code_above, code_in_header, settled_signs
from .questions.dates import rhythm_of
from .questions.look import DATES, Look, called, look_at
from .questions.other_source import called_anew
from .questions.placeholders import with_placeholders
from .questions.question import FileQuestion
from .questions.registry import questions_of
from .questions.structure import platform_named
from .questions.worth_columns import whole_of
from .scoring import column_score
from .spreading import month_of, week_of

_SUMS = "grand total|gesamtsumme|totals|total|summe|sum|gesamt|totaal|totale|somme|suma|soma"
TOTALS = tuple(_SUMS.split("|"))
"""What rows of sums begin with, the longer words first."""
TELLING = ["occurred_at", "email", "visitor_id", "phone", "url", "click_id", "name", "total", "conversion_id", "amount"]
"""Columns that together tell a row, where it has no id."""


@dataclass
class Guess:
    """How a file may be meant to be read.

    Attributes
    ----------
    record : a source as settings have it
    asked : what the look at the whole file leaves open, which is not looked at again
    questions : all that is open, before the file is read by the record
    notes : what was found out and how, in sentences
    rows : how many rows were looked at
    """

    record: dict[str, Any]
    asked: list[FileQuestion] = field(default_factory=list)
    questions: list[FileQuestion] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    rows: int = 0


class Unusable(FileProblem):
    """A file that is a table, but none that can be loaded; the text says what to export in its place."""


def guess(
    file: str, stream: BinaryIO, plan: Plan, table: str = "", encoding: str = "", headed: bool | None = None
) -> Guess:
    """Guess how a file is meant.

    Parameters
    ----------
    file : its name
    stream : its bytes
    plan : of the workspace: its platforms, goals and hosts
    table : which table it holds, if somebody said so
    encoding : the one it is in, if somebody said so
    headed : whether it names its columns, if somebody said so

    Raises
    ------
    FileProblem
        If it is no table at all, or (`Unusable`) holds sums where rows are needed.
    """
    layout = layout_of(file, stream, encoding)
    laid = layout.laid if headed is None else FileLayout(**{**layout.laid.__dict__, "headed": headed})
    look = look_at(file, stream, laid, layout.above, through=True)
    wanted = table or _table_of(file, look, look.contents)
    columns = _columns_of(wanted, look, look.contents)
    if MONEY.get(wanted, "") not in columns and (why := why_aggregated(look)) and table in ("", "visits"):
        raise Unusable(f"{file}: {why}")
    out = Guess({"name": called_anew(file, plan), "table": wanted}, rows=len(look.lines))
    _say_layout(out, laid)
    if layout.encodings:
        text = f"It is not UTF-8: in which encoding are its letters right? It is read as {layout.encodings[0]} now."
        out.asked.append(FileQuestion("encoding", text, layout.encodings, layout.hints, free=True))
    if not laid.headed and not table:
        out.asked.append(FileQuestion("table", "Its columns have no names: what are its rows?", [*SCHEMA]))
    if not laid.headed:
        out.notes.append("Its first line is a row: its columns have no names and are called by their place.")
    _splits(out, wanted, columns, look)
    order = [*(c.name for c in SCHEMA[wanted]), *TAG_COLUMNS]
    out.record["columns"] = {called(wanted, c): look.names[columns[c]] for c in order if c in columns}
    _periods(out, wanted, columns, look)
    _dates(out, wanted, columns, look, file, stream, laid)
    _numbers(out, wanted, columns, look, look.contents)
    _nothing(out, look.contents)
    out.record |= with_placeholders(look, out.record)
    whole = whole_of(look, out.record)
    if whole >= 0:
        out.record["columns"][called(wanted, MONEY[wanted])] = look.names[whole]
        out.notes.append(f"{look.names[whole]} is the whole of each row: what else is said of it adds up to it.")
    _currencies(out, wanted, look, plan)
    _totals(out, wanted, columns, look)
    _hosts(out, wanted, columns, look, plan)
    _constants(out, wanted, columns, look, plan)
    _ids(out, wanted, columns, look)
    out.questions = [q for q in questions_of(look, out.record, plan, out.asked) if q.open]
    return out


def _table_of(file: str, seen: Look, contents: Sequence[Content]) -> str:
    called = plain_words(PurePath(file).stem)
    scores: dict[str, float] = {}
    for table in SCHEMA:
        columns = _columns_of(table, seen, contents)
        score = sum(column_score(seen.names[i], table, column) for column, i in columns.items()) / 2.0
        score += sum(3 for c in SCHEMA[table] if c.required and c.name in columns and c.kind is not Kind.TEXT)
        left_to_say = ("platform", "goal", "account", ROW_ID.get(table, ""))
        score -= sum(8 for c in SCHEMA[table] if c.required and c.name not in columns and c.name not in left_to_say)
        score -= 2.0 * sum(c.required and c.name not in columns for c in SCHEMA[table])
        if any(f" {word} " in f" {called} " for word in TABLE_WORDS[table].split("|")):
            score += 6
        score -= 8 * _lacks_what_tells(table, columns, seen, called)
        scores[table] = score
    return max(scores, key=lambda t: scores[t])


_BACK = (
    *("refund", "return", "credit", "erstatt", "gutschrift", "ruckerstatt", "rembours", "avoir", "reembols", "rimbors"),
    *("terugbet", "storno"),
)
_SOMEBODY = ("lead_id", "email", "phone", "visitor_id", "name", "click_id")


def _lacks_what_tells(table: str, columns: Mapping[str, int], seen: Look, file: str) -> bool:
    """Whether a file has nothing that identifies rows of a table: refunds by their words, leads by somebody."""
    if table == "refunds":
        words = " ".join([file, *(plain_words(name) for name in seen.names)])
        return not any(word.startswith(_BACK) for word in words.split())
    if table == "leads":
        return not any(column in columns for column in _SOMEBODY)
    return table == "statuses" and not {"status", "stage"} & set(columns)


def _columns_of(table: str, seen: Look, contents: Sequence[Content]) -> dict[str, int]:
    """Which column of a file each column of a table may be: the best pair first, each once."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    wanted = [*kinds, *(TAG_COLUMNS if table == "visits" else ())]
    pairs: list[tuple[int, int, int, str]] = []
    for k, column in enumerate(wanted):
        kind = kinds.get(column, Kind.TEXT)
        for i, name in enumerate(seen.names):
            score = column_score(name, table, column)
            if not score or not _can_be(kind, column, contents[i], seen.cells[i], table):
                continue
            if not _is_sum(table, column, kind, name) or (kind is Kind.TEXT and is_unit(name, plain_words(name))):
                continue
            specific = kind not in (Kind.TEXT, Kind.FLAG) and contents[i].what != "nothing"
            pairs.append((score * 2 + specific + (contents[i].what == "mail"), -i, -k, column))
    out: dict[str, int] = {}
    for _, i, _, column in sorted(pairs, reverse=True):
        if column not in out and -i not in out.values():
            out[column] = -i
    _by_contents(table, out, kinds, contents, seen)
    return out


_ADDED = (Kind.AMOUNT, Kind.COST, Kind.COUNT)


def _is_sum(table: str, column: str, kind: Kind, name: str) -> bool:
    """Whether a name can be that of a column whose cells add up: no price, average, rate, budget or limit."""
    if kind not in _ADDED or (table, column) in (("other_costs", "quantity"), ("order_lines", "quantity")):
        return True
    words = plain_words(name)
    if is_unit(name, words):
        return False
    return not (is_price(words) and table in ("spend", "other_costs"))


def _can_be(kind: Kind, column: str, content: Content, cells: Sequence[str], table: str) -> bool:
    if kind in DATES and content.what == "number":
        return bool(is_unix(cells[:200])) or is_compact(cells[:200])
    if kind in DATES and content.what == "word" and table == "spend":
        return bool(_period_of(cells[:200]))
    if column == "email":
        return content.what in ("mail", "nothing")
    if kind is Kind.TEXT and content.what in ("mail", "date") and column not in ("email", "visitor_id"):
        return False
    return fits(content, kind)


def _by_contents(
    table: str, out: dict[str, int], kinds: Mapping[str, Kind], contents: Sequence[Content], seen: Look
) -> None:
    """Columns that no name told, where one column of the file alone can be it."""
    for column in SCHEMA[table]:
        special = column.name == "email" or column.kind in (*DATES, Kind.ADDRESS, Kind.CURRENCY)
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


def _splits(out: Guess, table: str, columns: dict[str, int], seen: Look) -> None:
    """Columns that say they hold several, such as *Source / medium*."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    texts = [c for c, kind in kinds.items() if kind is Kind.TEXT] + (list(TAG_COLUMNS) if table == "visits" else [])
    for i, name in enumerate(seen.names):
        by = next((sign for sign in (" / ", "/", " | ", " > ") if sign in name), "")
        cells = [c for c in seen.cells[i] if c.strip()]
        if not by or not any(by.strip() in c for c in cells):
            continue
        # The first part carries what belongs to all of them, as in *Lead source / medium*.
        parts = [part.strip() for part in name.split(by.strip())]
        into: list[str] = []
        for part in parts:
            # Of equally good ones the later: the last source rather than the first.
            found = max(texts, key=lambda c: (column_score(part, table, c), texts.index(c)))
            into.append(found if column_score(part, table, found) and found not in into else "")
        if sum(map(bool, into)) < 2:
            continue
        for column in [c for c, at in columns.items() if at == i or c in into]:
            del columns[column]
        names = [called(table, c) if c else "" for c in into]
        out.record.setdefault("split", []).append({"column": name, "by": by, "into": names})
        out.notes.append(f"{name} is split at {by.strip()} into {', '.join(n for n in names if n)}.")


def _say_layout(out: Guess, laid: FileLayout) -> None:
    said = {"encoding": laid.encoding, "delimiter": laid.delimiter, "sheet": laid.sheet, "skip_top": laid.skip_top}
    out.record |= {name: value for name, value in said.items() if value}
    if not laid.headed:
        out.record["headed"] = False
    if laid.skip_top:
        out.notes.append(f"The header is on line {laid.skip_top + 1}; what is above is left out.")
    if laid.encoding:
        out.notes.append(f"It is not UTF-8: read as {laid.encoding}.")


_PERIODS = ((WEEK, week_of), (MONTH, month_of))


def _period_of(cells: Iterable[str]) -> str:
    """Whether cells are weeks or months by the way they are written."""
    filled = [cell for cell in dict.fromkeys(c.strip() for c in cells) if cell]
    for period, read in _PERIODS:
        if filled and sum(read(cell) is not None for cell in filled) >= 0.85 * len(filled):
            return period
    return ""


_WEEKLY = (
    "week", "weeks", "woche", "kalenderwoche", "kw", "semaine", "semana", "settimana", "vecka",
    "uge", "uke", "tydzien", "tyden", "hafta", "viikko"
)  # fmt: skip
_MONTHLY = ("month", "monat", "mois", "mes", "mese", "maand", "manad", "maned", "miesiac", "mesic", "ay", "kuukausi")


def _periods(out: Guess, table: str, columns: Mapping[str, int], seen: Look) -> None:
    """Rows of spend that are weeks or months: as they are written, as their column is called, or by their rhythm."""
    if table != "spend" or "day" not in columns:
        return
    at = columns["day"]
    period = _period_of(seen.cells[at][:500])
    words = plain_words(seen.names[at]).split()
    rhythm = (
        ""
        if period
        else next((r for o in (YEAR_FIRST, DAY_FIRST, MONTH_FIRST) if (r := rhythm_of(seen.cells[at], o))), "")
    )
    if not period and rhythm and any(word in (_WEEKLY if rhythm == WEEK else _MONTHLY) for word in words):
        period = rhythm
    if period:
        out.record["period"] = period
    elif rhythm:
        text = f"Each of its days begins a {rhythm}: is a row a whole {rhythm}, spread by day, or that day alone?"
        out.asked.append(FileQuestion("period", text, [rhythm, "days"]))


def _dates(
    out: Guess, table: str, columns: Mapping[str, int], seen: Look, file: str, stream: BinaryIO, laid: FileLayout
) -> None:
    """The order of days, by the cells of all columns that hold some."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    dated = [i for column, i in columns.items() if kinds.get(column) in DATES]
    if out.record.get("period") and _period_of(seen.cells[columns["day"]][:500]):
        return
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
        out.asked.append(FileQuestion("date", found.question, [DAY_FIRST, MONTH_FIRST], line=found.line))


def _numbers(out: Guess, table: str, columns: Mapping[str, int], seen: Look, contents: Sequence[Content]) -> None:
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
        out.asked.append(FileQuestion("decimal", text, [signs.decimal, signs.thousands], line=line))


def _currencies(out: Guess, table: str, seen: Look, plan: Plan) -> None:
    """What the header, the title or cells say of currencies (the rest is asked)."""
    if not any(c.name == "currency" for c in SCHEMA[table]) or "currency" in out.record["columns"]:
        return
    code, name = code_in_header(seen, out.record)
    above = "" if code else code_above(seen)
    if code or above:
        out.record["currency"] = code or above
        out.notes.append(f"{name} says {code}." if code else f"The lines above the header say {above}.")
    signs = settled_signs(seen, out.record, plan)
    if signs:
        out.record |= {"signs": signs, "currency_signs": True}
        out.notes.append("; ".join(f"{sign} is {of}" for sign, of in signs.items()) + ".")


def _nothing(out: Guess, contents: Iterable[Content]) -> None:
    words = sorted({word for content in contents for word in content.nothing})
    if words:
        out.record["nothing"] = words


def _totals(out: Guess, table: str, columns: Mapping[str, int], seen: Look) -> None:
    """A row of sums at the end, or right under the header: one that has no day where the others have one."""
    kinds = {c.name: c.kind for c in SCHEMA[table]}
    dated = [i for column, i in columns.items() if kinds.get(column) in DATES]
    rows = [*seen.tail[-2:], *([[cells[0] for cells in seen.cells]] if seen.lines else [])]
    firsts = [row[0] for row in rows if not any(_has_day(row[i]) for i in dated)]
    firsts += [odd.lstrip('"').replace('"', "") for odd in seen.odd]
    for cell in firsts:
        words = plain_words(cell)
        found = next((t for t in TOTALS if f"{words} ".startswith(f"{t} ")), "")
        if found and not is_number(cell):
            written = re.match(r"[^\W\d_]+(?:\s[^\W\d_]+)?", cell.strip())
            whole = written is not None and plain_words(written[0]) in TOTALS
            out.record["total"] = written[0] if written and whole else cell.strip()[: len(found)]
            out.notes.append(f"Rows that begin with {out.record['total']} are sums, not rows.")
            return


def _has_day(cell: str) -> bool:
    return any(iso_of(cell.strip(), order) for order in (YEAR_FIRST, DAY_FIRST, MONTH_FIRST)) if cell.strip() else False


def _hosts(out: Guess, table: str, columns: Mapping[str, int], seen: Look, plan: Plan) -> None:
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


def _constants(out: Guess, table: str, columns: Mapping[str, int], seen: Look, plan: Plan) -> None:
    """What no column says and the file's name, its title or the plan do; the rest is asked."""
    constant: dict[str, str] = {}
    wanted = {c.name for c in SCHEMA[table] if c.required and c.name not in columns}
    if "platform" in wanted:
        found = platform_named([PurePath(seen.file).stem, *seen.above], plan)
        if found:
            constant["platform"] = found
            out.notes.append(f"{found} is named in the file: its rows are that platform's.")
    if "goal" in wanted:
        goals = list(dict.fromkeys(g.name for g in plan.goals if g.kind == "sale")) or ["sale"]
        if len(goals) == 1:
            constant["goal"] = goals[0]
            out.notes.append(f"No column names the goal: its rows are {goals[0]}.")
    if constant:
        out.record["constant"] = constant


def _ids(out: Guess, table: str, columns: Mapping[str, int], seen: Look) -> None:
    own = ROW_ID.get(table)
    if own is None:
        return
    if own in columns:
        cells = [c.strip() for c in seen.cells[columns[own]] if c.strip()]
        unique = any(
            i not in columns.values() and seen.lines and len(set(seen.filled(i))) == len(seen.lines)
            for i in range(len(seen.names))
        )
        if len(set(cells)) >= 0.5 * len(seen.lines) or not seen.lines or (not cells and unique):
            # Where it is empty and another one tells rows apart, that is asked.
            return
        # A name that says id, but of something that comes again and again.
        out.record["columns"].pop(own, None)
    named = [called(table, c) for c in TELLING if c in columns and c != own]
    out.record["id"] = named or [seen.names[0]]
    out.notes.append(f"No column is an id: rows are told apart by {', '.join(out.record['id'])}.")
