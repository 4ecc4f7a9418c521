"""Web server logs in, as visits: the combined log format and W3C extended logs.

A line is a visit where a page was asked for and given: GET, a status of 200 to 299 or 304, no style, script, picture or
font, and no robot that says it is one. All other lines are left out; one that is not a line of a log is rejected.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from typing import Any, BinaryIO

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from yardstick.core.base.notes import Rejected

from ..cells.row_hashes import hash_of
from .csv_in import LONGEST_LINE
from .format import FileFormat
from .headers import header_of, keys_of
from .raw import USUAL, FileLayout, FileProblem, RawBatch, rejected_digest, shown
from .text_layout import text_looked_at

BLOCK = 4 * 1024 * 1024
COLUMNS = ("visit_id", "occurred_at", "visitor_id", "url", "referrer", "device")
_QUOTED = r'"((?:[^"\\]|\\.)*)"'
_COMBINED = (
    r"^(?:(?P<server>[^\s:]+):\d+ )?(?P<host>\S+) \S+ (?P<user>\S+) "
    r"\[(?P<day>\d{2})/(?P<month>[A-Z][a-z]{2})/(?P<year>\d{4}):(?P<time>\d{2}:\d{2}:\d{2}) (?P<sign>[+-])(?P<h>\d{2})"
    rf"(?P<m>\d{{2}})\] {_QUOTED.replace('(', '(?P<request>', 1)} (?P<status>\d{{3}}) \S+"
    rf"(?: {_QUOTED.replace('(', '(?P<referrer>', 1)} {_QUOTED.replace('(', '(?P<agent>', 1)})?.*$"
)
_REQUEST = r"^(?P<method>[A-Z]+) (?P<path>\S+)(?: HTTP/[0-9.]+)?$"
_MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ")  # noqa: SIM905
_NO_PAGE = (
    r"(?i)\.(?:css|js|mjs|map|png|jpe?g|gif|svg|webp|avif|ico|bmp|woff2?|ttf|otf|eot|mp4|webm|mp3|json|xml|txt)(?:$|\?)"
)
_ROBOT = r"(?i)bot\b|bot/|crawl|spider|scrape|monitor|preview|headless"
_ESCAPE = re.compile(rb"\\x([0-9A-Fa-f]{2})|\\(.)")
_W3C_FIELDS = ("date", "time", "cs-uri-stem")


def is_log(head: bytes) -> str:
    """`combined` or `w3c`, if a file begins as such a log does, else nothing."""
    lines = head.decode("utf-8", "replace").splitlines()
    first = next((line for line in lines if line.strip()), "")
    if first.startswith("#") and any(line.startswith("#Fields:") for line in lines[:20]):
        return "w3c"
    return "combined" if pc.match_substring_regex(pa.array([first]), _COMBINED)[0].as_py() else ""


class LogFile:
    """A web server log being read as visits.

    Parameters
    ----------
    file : name for messages
    stream : the bytes
    table : which table it must hold: visits, or `AS_WRITTEN`
    laid : how it is laid out; no part of it bears on this format

    Raises
    ------
    FileProblem
        If it does not begin as a log does, or lacks what makes a visit.

    Notes
    -----
    A log knows nobody. Who is one person is told by the name they signed in with, else by a hash of address and
    browser: the best a log has, and wrong where many share both. The address itself is not kept.
    """

    def __init__(self, file: str, stream: BinaryIO, table: str | None = None, laid: FileLayout = USUAL) -> None:
        self._file, self._stream = file, stream
        self._kind = is_log(stream.read(1 << 16))
        stream.seek(0)
        if not self._kind:
            raise FileProblem(f"{file}: line 1: not a line of a web server log (combined or W3C extended)")
        self.header_lines = 0
        self.header, self._order = header_of(file, "visits" if table is None else table, list(COLUMNS))
        self._keys = keys_of(self.header)
        self._fields: list[str] = []

    def batches(self) -> Iterator[RawBatch]:
        """The visits of the log, some lines at a time, in order."""
        line, rest = 1, b""
        while True:
            block = self._stream.read(BLOCK)
            whole, cut, after = (rest + block).rpartition(b"\n") if block else (rest, b"", b"")
            rest = after if cut or not block else rest + block
            if len(rest) > LONGEST_LINE:
                raise FileProblem(f"{self._file}: line {line}: longer than {LONGEST_LINE:,} bytes: this is not a log")
            if whole or cut:
                lines = whole.split(b"\n")
                yield self._batch(lines, line, self._stream.tell())
                line += len(lines)
            if not block:
                if line == 1:
                    yield self._batch([], 1, 0)
                return

    def _batch(self, lines: Sequence[bytes], start: int, done: int) -> RawBatch:
        texts: list[str] = []
        at: list[int] = []
        rejected: list[Rejected] = []
        skipped = 0
        for number, line in enumerate(lines, start):
            text = line.rstrip(b"\r").decode("utf-8", "surrogateescape")
            if not text.strip() or (self._kind == "w3c" and text.startswith("#")):
                if text.startswith("#Fields:"):
                    self._fields_change(text)
                skipped += 1
            elif "\0" in text or any("\ud800" <= c <= "\udfff" for c in text):
                rejected.append(self._bad(number, text, "not UTF-8, or a NUL byte: not a line of a log"))
            else:
                # Each line of a W3C log is read by the fields that stood last above it.
                texts.append(text if self._kind == "combined" else f"{len(self._fields) - 1}\x1f{text}")
                at.append(number)
        parts = self._combined(texts) if self._kind == "combined" else self._w3c(texts)
        fits = pc.is_valid(parts["path"]).to_numpy(zero_copy_only=False) if texts else np.empty(0, np.bool_)
        odd = np.flatnonzero(~fits).tolist()
        rejected += [self._bad(at[i], texts[i].rpartition("\x1f")[2], "not a line of a web server log") for i in odd]
        visit = fits & pc.fill_null(_is_visit(parts), False).to_numpy(zero_copy_only=False) if texts else fits
        skipped += int(fits.sum() - visit.sum())
        columns = self._columns({name: array.filter(pa.array(visit)) for name, array in parts.items()})
        arrays = [columns[COLUMNS[i]] for i in self._order]
        rows = np.array(at, np.int64)[visit] if texts else np.empty(0, np.int64)
        rejected.sort(key=lambda r: r.line)
        return RawBatch(dict(zip(self._keys, arrays, strict=True)), rows, rejected, skipped, done)

    def _fields_change(self, text: str) -> None:
        fields = text.removeprefix("#Fields:").strip().lower()
        missing = [name for name in _W3C_FIELDS if name not in fields.split()]
        if missing:
            raise FileProblem(f"{self._file}: its fields lack {', '.join(missing)}: let the server write them")
        self._fields.append(fields)

    def _bad(self, line: int, text: str, reason: str) -> Rejected:
        return Rejected("visits", self._file, line, "", shown(text), reason, rejected_digest("visits", [text]))

    def _combined(self, texts: list[str]) -> dict[str, Any]:
        found = pc.extract_regex(pa.array(texts, pa.string()), _COMBINED)
        part = {name: pc.struct_field(found, name) for name in _names(found)}
        request = pc.extract_regex(pc.if_else(pc.is_valid(found), part["request"], ""), _REQUEST)
        whole = pc.is_valid(found)
        # A request that is none, as of somebody who speaks another protocol, is a line of the log but no visit.
        path = pc.if_else(whole, pc.fill_null(pc.struct_field(request, "path"), ""), pa.scalar(None, pa.string()))
        coded = pc.index_in(part["month"], pa.array(_MONTHS))
        month = pc.take(pa.array([f"{n:02d}" for n in range(1, 13)]), coded)
        day = pc.binary_join_element_wise(part["year"], month, part["day"], "-")
        offset = pc.binary_join_element_wise(part["h"], part["m"], ":")
        at = pc.binary_join_element_wise(day, pa.scalar("T"), part["time"], part["sign"], offset, "")
        return {
            "path": path,
            "method": pc.fill_null(pc.struct_field(request, "method"), ""),
            "server": part["server"],
            "host": part["host"],
            "user": part["user"],
            "at": at,
            "status": part["status"],
            "referrer": part["referrer"],
            "agent": part["agent"],
        }

    def _w3c(self, texts: list[str]) -> dict[str, Any]:
        names = ("path", "method", "server", "host", "user", "at", "status", "referrer", "agent")
        out: dict[str, list[str | None]] = {name: [] for name in names}
        for text in texts:
            number, _, line = text.partition("\x1f")
            fields = self._fields[int(number)].split() if int(number) >= 0 else []
            cells = line.split()
            row = dict(zip(fields, cells, strict=False)) if fields and len(cells) == len(fields) else {}
            value = {name: "" if cell == "-" else cell for name, cell in row.items()}
            query = value.get("cs-uri-query", "")
            stem = value.get("cs-uri-stem")
            out["path"].append(None if stem is None else stem + (f"?{query}" if query else ""))
            out["method"].append(value.get("cs-method", "GET"))
            out["server"].append(value.get("cs-host", "").partition(":")[0])
            out["host"].append(value.get("c-ip", ""))
            out["user"].append(value.get("cs-username", ""))
            # Times of such a log are in UTC.
            out["at"].append(f"{value.get('date', '')}T{value.get('time', '')}Z")
            out["status"].append(value.get("sc-status", "200"))
            out["referrer"].append(value.get("cs(referer)", ""))
            out["agent"].append(value.get("cs(user-agent)", "").replace("+", " "))
        return {name: pa.array(cells, pa.string()) for name, cells in out.items()}

    def _columns(self, part: dict[str, Any]) -> dict[str, Any]:
        part = {name: _unescaped(pc.fill_null(array, "")) for name, array in part.items()}
        part = {name: pc.if_else(pc.equal(array, "-"), pa.scalar(""), array) for name, array in part.items()}
        path = part["path"]
        base = pc.if_else(
            pc.equal(part["server"], ""), pa.scalar(""), pc.binary_join_element_wise("https://", part["server"], "")
        )
        whole = pc.match_substring_regex(path, r"^https?://")
        url = pc.if_else(whole, path, pc.binary_join_element_wise(base, path, ""))
        agent = part["agent"]
        mobile = pc.match_substring_regex(agent, "(?i)mobi")
        tablet = pc.match_substring_regex(agent, "(?i)tablet")
        device = pc.if_else(
            tablet, "tablet", pc.if_else(mobile, "mobile", pc.if_else(pc.equal(agent, ""), "", "desktop"))
        )
        return {
            "visit_id": _ids([part["at"], part["host"], part["method"], path, part["referrer"], agent]),
            "occurred_at": part["at"],
            "visitor_id": pc.if_else(pc.equal(part["user"], ""), _ids([part["host"], agent]), part["user"]),
            "url": url,
            "referrer": part["referrer"],
            "device": device,
        }


def _names(found: Any) -> list[str]:
    return [found.type.field(i).name for i in range(found.type.num_fields)]


def _is_visit(part: dict[str, Any]) -> Any:
    page = pc.and_(pc.equal(part["method"], "GET"), pc.invert(pc.match_substring_regex(part["path"], _NO_PAGE)))
    page = pc.and_(page, pc.match_substring_regex(part["path"], r"^(/|https?://)"))
    given = pc.match_substring_regex(part["status"], r"^(2\d\d|304)$")
    person = pc.invert(pc.match_substring_regex(pc.fill_null(part["agent"], ""), _ROBOT))
    return pc.and_(pc.and_(page, given), person)


def _ids(columns: list[Any]) -> Any:
    words = hash_of([pa.repeat(pa.scalar("log"), len(columns[0])), *columns], "blake2b", 16)
    return pa.array([word.tobytes().hex()[:20] for word in words], pa.string())


def _unescaped(text: Any) -> Any:
    """What servers write for quotes and bytes that are none of ASCII, as text again."""
    if not pc.any(pc.match_substring(text, "\\")).as_py():
        return text

    def plain(cell: str) -> str:
        if "\\" not in cell:
            return cell
        raw = _ESCAPE.sub(lambda m: bytes([int(m[1], 16)]) if m[1] else m[2], cell.encode())
        return raw.decode("utf-8", "replace").replace("\0", "\ufffd")

    return pa.array([plain(cell) for cell in text.to_pylist()], pa.string())


FORMAT = FileFormat(
    "a web server log",
    (".log",),
    LogFile,
    look=text_looked_at,
    bears=("encoding", "delimiter", "sheet", "skip_top", "headed"),
    begins=lambda head: bool(is_log(head)),
    offered=False,
)
