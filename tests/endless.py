"""Feeds one of our parsers texts that are one character, or two in turn, over and over."""

from __future__ import annotations

import contextlib
import io
import resource
import sys
import time
from collections.abc import Callable

from forking import serve
from yardstick.core.base.conditions import condition
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import SLOTS, fold
from yardstick.core.links.addresses import as_browsers_read, build, strip_tags, why_not_opened, written_out
from yardstick.core.links.checkup import Checker
from yardstick.core.links.links import tags_of
from yardstick.core.links.mail import tag_mail_link
from yardstick.core.links.messages import count_message
from yardstick.core.links.naming import next_name
from yardstick.core.links.patterns import fits
from yardstick.core.links.personal_data import has_email, is_personal
from yardstick.core.plan.linking_phase import Sender
from yardstick.core.plan.plan import Plan
from yardstick.core.plan.reading_phase import Naming
from yardstick.core.reading.hosts import ascii_host
from yardstick.core.reading.pages import page_key
from yardstick.core.reading.tags import host_of, parameters, read_value, reader, split_address
from yardstick.core.report.filters import read_filter
from yardstick.formats.cells import cells, contents, currencies_in, dates_in, money_words, numbers_in
from yardstick.formats.cells.plain_words import plain_words
from yardstick.formats.files.encodings import encoding_of
from yardstick.formats.files.logs_in import is_log
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.files.readers import layout_of, open_table
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.results.sheets import read_table
from yardstick.formats.rows.input_tables import read_file
from yardstick.formats.sources import spreading
from yardstick.formats.sources.guessing import guess

CPU_S = {1 << 14: 2, 1 << 20: 30}
"""CPU seconds that a text of so many bytes may take at most: many times of what most take, a part of a square's."""

ONE = [
    *"abzAZ09 \t\n\r\"'`;,|=&?#%/\\.:@-_+*<>[](){}$€^~!",
    *(
        "é",
        "ß",
        "İ",
        "م",
        "٣",
        "中",
        "😀",
        "\u200b",
        "\u0301",
        "\x00",
        "\xa0",
        "\ufeff",
        "\u2028",
        "½",
        "1",
        "\x7f",
    ),
]
TWO = [
    "a.", "a@", "&=", "%2", "%%", "{{", "[(", "[ ", '",', '"\n', "a,", "1,", "1.", "1 ", "://"[:2], "=&", "?a", "_a", "-1",
    "\\x",
]  # fmt: skip
TEXTS = [*ONE, *TWO]


def _file(name: str, head: str, whole: bool = True) -> Callable[[str], object]:
    def read(text: str) -> object:
        content = (head + text).encode("utf-8", "surrogatepass")
        return read_file(open_table(name, io.BytesIO(content), "visits" if whole else None), "UTC")

    return read


def _list(name: str, head: str) -> Callable[[str], object]:
    return lambda text: read_table(name, (head + text).encode("utf-8", "surrogatepass"))


VISIT = "visit_id,occurred_at,url,visitor_id\nv1,2026-03-02T10:00:00Z,"
JSON = '{"visit_id": "v1", "occurred_at": "2026-03-02T10:00:00Z", "url": "'
NAMING = Naming("campaign", "_", ("market", "number"))
_CHECKER = Checker(Plan())
_READ = reader(["qclid"], ["size"])


def _each(*ways: Callable[[str], object]) -> Callable[[str], object]:
    """Several small parsers, one after the other; what one refuses the next may take."""

    def all_of(text: str) -> object:
        for way in ways:
            try:
                way(text)
            except (FileProblem, SettingsError, ValueError):
                continue
        return None

    return all_of


def _guess(head: str) -> Callable[[str], object]:
    return lambda text: guess("export.csv", io.BytesIO((head + text).encode("utf-8", "surrogatepass")), Plan())


PARSERS: dict[str, Callable[[str], object]] = {
    "an address": _each(
        _READ, split_address, host_of, ascii_host, page_key, lambda t: parameters(t), lambda t: read_value(t, t, SLOTS)
    ),
    "its query": lambda t: _READ("https://x.example/?utm_source=" + t),
    "an address written": _each(why_not_opened, as_browsers_read, written_out, strip_tags, lambda t: build(t, [("a", t)])),
    "tags of an address": lambda t: tags_of("https://x.example/?" + t),
    "the check-up": _each(_CHECKER.check, lambda t: _CHECKER.check("https://x.example/p?utm_source=a&utm_medium=" + t)),
    "the check-up of a pattern": lambda t: _CHECKER.check("https://x.example/?utm_source={{x}}" + t, pattern=True),
    "personal data": _each(has_email, lambda t: is_personal("phone", t, t), lambda t: is_personal("q", t, t)),
    "a message": count_message,
    "a mail link": lambda t: tag_mail_link("https://x.example/?" + t, Sender("s", "one-off", {"source": "(:list:)" + t[:1000]}), {"list": t}),
    "a naming": _each(lambda t: next_name(NAMING, {"market": "dach", "number": "#"}, [t, "dach_" + t, "dach_1" + t]), lambda t: fits("{{a}}" + t, t)),
    "a filter": _each(read_filter, lambda t: read_filter("source is " + t)),
    "a condition": _each(
        lambda t: condition("here", "matches", (t,), fold),
        lambda t: condition("here", "matches", ("(a+)+$",), fold)(t),
        lambda t: condition("here", "between", ("1", "2"), fold)(t),
    ),
    "a cell": _each(
        cells.decimal_cell, cells.amount_cell, cells.cost_cell, cells.price_cell, cells.rate_cell, cells.count_cell,
        cells.flag_cell, cells.currency_cell, cells.address_cell, cells.month_cell, cells.day_cell,
        cells.instant_reader("Europe/Berlin", lambda a, b: None),
    ),
    "a day or a number": _each(
        lambda t: dates_in.iso_of(t, dates_in.DAY_FIRST), dates_in.month_of_words, spreading.week_of, spreading.month_of,
        lambda t: numbers_in.number_of(t, ",", ".", True), lambda t: numbers_in.number_of(t, ".", ",", True, "EUR"),
        contents.is_mail, contents.is_number, lambda t: contents.content_of([t]), lambda t: contents.signs_of([t]),
        lambda t: contents.is_unix([t]), currencies_in.mark_of,
    ),
    "a heading": _each(plain_words, lambda t: money_words.is_unit(t, plain_words(t)), fold),
    "a layout": _each(
        lambda t: layout_of("x.csv", io.BytesIO(t.encode())), lambda t: is_log(t.encode()),
        lambda t: encoding_of(t.encode(), "")
    ),
    "a CSV file": _file("visits.csv", VISIT),
    "a CSV header": _file("visits.csv", "visit_id,", whole=False),
    "a quoted cell": _file("visits.csv", VISIT + '"'),
    "a guess at a header": _guess("Date,Campaign,"),
    "a guess at a cell": _guess("Date,Campaign,Cost\n2026-03-02,a,1.00\n2026-03-03,b,"),
    "JSON Lines": _file("visits.jsonl", JSON),
    "loose JSON Lines": _file("visits.jsonl", ""),
    "a log": _file("access.log", '203.0.113.7 - - [02/Mar/2026:10:00:00 +0000] "GET /'),
    "settings": lambda t: read_settings(t.encode()),
    "a setting": lambda t: read_settings(b'[reading]\ntime_zone = "' + t.encode()),
    "a list": _list("links.csv", "page,content\n"),
    "a list as JSON Lines": _list("links.jsonl", '{"page": "'),
}  # fmt: skip


def feed(name: str, size: str) -> None:
    """Feed a parser every text, each `size` bytes long; says the CPU seconds of each, and dies where it takes long."""
    parse, most = PARSERS[name], int(size)
    for text in TEXTS:
        long = text * (most // len(text.encode()))
        before = time.process_time()
        resource.setrlimit(resource.RLIMIT_CPU, (int(before) + CPU_S[most] + 1, resource.RLIM_INFINITY))
        sys.stdout.write(f"{text!r} ")
        sys.stdout.flush()
        with contextlib.suppress(FileProblem, SettingsError):
            parse(long)
        print(f"{time.process_time() - before:.2f}")
        sys.stdout.flush()


def _load_all() -> None:
    """What the first use loads is no work of a text, and is done once for all forks."""
    for parse in PARSERS.values():
        for text in ("a", "Cost\n2026-03-02,a,1.00\n", '1.00"\n', "\n\n"):
            with contextlib.suppress(FileProblem, SettingsError):
                parse(text)


if __name__ == "__main__":
    _load_all()
    serve(feed)
