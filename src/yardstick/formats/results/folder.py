"""A folder of tables in, a folder of results out: the main job without server or database."""

from __future__ import annotations

import json
import os
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from typing import Any

from yardstick.core.base.schema import SCHEMA
from yardstick.core.base.version import VERSION
from yardstick.core.plan.gathering_phase import Source
from yardstick.core.report.judged import Judged
from yardstick.core.report.summary import TiePart, finding_counts, money_without_rate, tie_line
from yardstick.core.report.totals import totals
from yardstick.core.report.weigh import Result

from ..files.raw import FileProblem
from ..files.readers import known_format, open_table, saved_as
from ..plan.settings_toml import settings_used
from ..rows.input_tables import FileCount, InputTables, ReadFile, read_file, tables_of
from ..sources.sourcing import open_by, source_for
from ..sources.sum_rows import Watched
from .csv_out import (
    COVERAGE_COLUMNS,
    CREDIT_COLUMNS,
    FINDING_COLUMNS,
    MATTER_COLUMNS,
    MATURITY_COLUMNS,
    REJECTED_COLUMNS,
    REPORT_COLUMNS,
    coverage_rows,
    credit_rows,
    figure_cells,
    finding_rows,
    interval_header,
    interval_rows,
    matter_rows,
    maturity_rows,
    money,
    rejected_rows,
    report_header,
    report_rows,
    verdict_header,
    verdict_rows,
)
from .result_kinds import FORMATS
from .typed_results import result_bytes


def read_folder(folder: Path, zone: str, sources: Sequence[Source] = ()) -> InputTables:
    """Read the tables of a folder.

    Parameters
    ----------
    folder : holds files of visits and, if there are any, of other tables, whatever they are called; several files of
        one table are one load
    zone : time zone of times without an offset
    sources : how files with other columns are read

    Raises
    ------
    FileProblem
        If there is no such folder, no visits, or these cannot be read as a whole. Another file that cannot be read does
        not stop the rest: what is wrong with it, and what would make it read, stands in `Given.unread`, by file.
    """
    if not folder.is_dir():
        raise FileProblem(f"{folder}: there is no such folder")
    files: list[ReadFile] = []
    unread: dict[str, str] = {}
    for path in sorted(folder.iterdir(), key=lambda p: p.name):
        if not path.is_file() or path.name.startswith(".") or path.suffix.lower() == ".toml":
            continue
        try:
            files.append(_read_one(path, zone, sources))
        except FileProblem as problem:
            unread[path.name] = str(problem)
    if not any(f.header.table == "visits" for f in files):
        # What was meant to be the visits says why it is none.
        meant = [why for name, why in unread.items() if name.lower().startswith("visits")]
        raise FileProblem(meant[0] if meant else f"{folder}: there is no file of visits: visits are required")
    return replace(tables_of(files), unread=unread)


def _read_one(path: Path, zone: str, sources: Sequence[Source]) -> ReadFile:
    """A file read by the source that it fits, else by its columns."""
    with path.open("rb") as stream:
        head = stream.read(1 << 16)
        stream.seek(0)
        if known_format(path.name, head) is None:
            ending = path.suffix.lower() or "nothing"
            raise FileProblem(f"{path.name}: files ending in {ending} are not read: save it as {saved_as()}")
        source = source_for(path.name, stream, sources)
        if source is not None:
            return read_file(open_by(path.name, stream, source), source.time_zone or zone)
        try:
            return read_file(Watched(open_table(path.name, stream)), zone)
        except FileProblem as problem:
            if path.stem.lower() in SCHEMA:
                raise
            said = "`yardstick read` writes the source that would read it, for your settings"
            raise FileProblem(f"{problem}. {said}") from None


Cells = tuple[Sequence[str], Iterable[Sequence[str]], Sequence[str]]
"""A table of results: columns, rows, and which columns are text whatever their name."""


def result_tables(result: Result, folder: InputTables, judged: Judged | None = None) -> dict[str, Cells]:
    """The tables of a result by name; see `write_results`."""
    digits = result.plan.money.minor_digits
    tables: dict[str, Cells] = {
        "result": (report_header(result), list(report_rows(result)), result.by),
        "credits": (CREDIT_COLUMNS, _Again(lambda: credit_rows(result)), ()),
        "findings": (FINDING_COLUMNS, list(finding_rows([*folder.findings, *result.findings], digits)), ("value",)),
        "rejected": (REJECTED_COLUMNS, list(rejected_rows([*folder.rejected, *result.rejected])), ("value",)),
        "coverage": (COVERAGE_COLUMNS, list(coverage_rows(result)), ("value",)),
        "matters": (MATTER_COLUMNS, list(matter_rows(result)), ("object",)),
    }
    if judged is not None:
        tables |= {
            "verdicts": (
                verdict_header(result),
                list(verdict_rows(judged, digits)),
                (*result.by, "conversions_needed"),
            ),
            "intervals": (interval_header(result), list(interval_rows(result, judged)), result.by),
            "maturity": (MATURITY_COLUMNS, list(maturity_rows(judged)), ()),
        }
    return tables


@dataclass(frozen=True)
class _Again:
    """Rows that are made each time somebody goes through them: the credits are as many as all shares."""

    rows: Callable[[], Iterator[Sequence[str]]]

    def __iter__(self) -> Iterator[Sequence[str]]:
        return self.rows()


def write_results(
    result: Result, folder: InputTables, out: Path, format: str = "csv", judged: Judged | None = None
) -> None:
    """Write result, credits, findings, rejected, coverage and matters in a format, and summary.json, each whole.

    Parameters
    ----------
    result : what the weighing gave
    folder : what was noticed while reading
    out : folder to write to; made if missing
    format : one of `result_kinds.FORMATS`
    judged : how sure the result is; without it no verdicts, intervals and maturity are written

    Notes
    -----
    Results of an earlier run with other figures that this one does not write are taken away: beside these they would be
    read as theirs. The same figures in another format stay, and so does everything where no run wrote its summary.
    """
    out.mkdir(parents=True, exist_ok=True)
    digits = result.plan.money.minor_digits
    about = summary(result, folder)
    earlier = _other_results_in(out, about)
    written = set()
    for name, (header, rows, texts) in result_tables(result, folder, judged).items():
        written.add(f"{name}.{format}")
        _write(out / f"{name}.{format}", result_bytes(header, rows, format, texts, digits))
    for name in earlier - written:
        (out / name).unlink(missing_ok=True)
    text = json.dumps(about, indent=2, ensure_ascii=False)
    _write(out / "summary.json", f"{text}\n".encode())


RESULTS = ("result", "credits", "findings", "rejected", "coverage", "matters", "verdicts", "intervals", "maturity")
"""Names of the tables of a result, see `result_tables`."""


_SAME = ("fingerprint", "data_state", "origin", "version", "by", "where")
"""What in their summaries tells two runs with the same figures."""


def _other_results_in(out: Path, about: dict[str, Any]) -> set[str]:
    """Files that an earlier run of ours, with other figures than those of a summary, left in a folder."""
    try:
        earlier = json.loads((out / "summary.json").read_text())
    except (OSError, ValueError):
        return set()
    if not isinstance(earlier, dict) or not {"fingerprint", "data_state", "version"} <= set(earlier):
        return set()
    if all(earlier.get(name) == about.get(name) for name in _SAME):
        return set()
    return {f"{name}.{kind}" for name in RESULTS for kind in FORMATS} & {path.name for path in out.iterdir()}


def _write(path: Path, content: bytes) -> None:
    part = path.with_name(path.name + ".part")
    part.write_bytes(content)
    os.replace(part, path)


def summary(result: Result, folder: InputTables) -> dict[str, Any]:
    """`summary.json`: totals, rows per file, findings, settings as used, fingerprint."""
    ties, digits, unrated = tie_line(result), result.plan.money.minor_digits, money_without_rate(result)

    def part(p: TiePart) -> dict[str, Any]:
        return asdict(p) | {"value": money(p.value, digits)}

    return {
        "fingerprint": result.fingerprint,
        "data_state": result.data,
        "origin": result.origin,
        "version": VERSION,
        "by": list(result.by),
        **({"where": [str(stated) for stated in result.where]} if result.where else {}),
        "currency": result.plan.money.home_currency,
        "totals": {
            "booked": part(ties.booked),
            "no_trail": part(ties.no_trail),
            "named_value": {name: money(v, digits) for name, v in ties.named.items()},
            "untagged_value": {name: money(v, digits) for name, v in ties.untagged.items()},
            "no_value_value": {name: money(v, digits) for name, v in ties.no_value.items()},
            "outside_value": {name: money(v, digits) for name, v in ties.outside.items()},
            "invoiced": money(ties.invoiced, digits),
            "matched": money(ties.matched, digits),
            "unmatched": money(ties.unmatched, digits),
            "quarantined_records": ties.quarantined_records,
            "quarantined_value": money(ties.quarantined_value, digits),
            "touches": int(result.touch_in_range.sum()),
            **({"without_event": result.without_event()} if result.plan.trailing.event else {}),
            "ads_only": _totals(result, True),
            "blended": _totals(result, False),
        },
        "files": {name: asdict(count) for name, count in _final_counts(result, folder).items()},
        **({"without_rate": [asdict(one) for one in unrated]} if unrated else {}),
        **({"unread": folder.unread} if folder.unread else {}),
        "captured": {"first": asdict(ties.captured_first), "last": asdict(ties.captured_last)},
        "findings": finding_counts([*folder.findings, *result.findings]),
        "settings": settings_used(result.plan),
    }


def _totals(result: Result, ads_only: bool) -> dict[str, dict[str, str]]:
    """Yardstick -> the names and figures of `result.csv` from `leads` on."""
    digits = result.plan.money.minor_digits
    cells = {name: figure_cells(*both, digits) for name, both in totals(result, ads_only).items()}
    return {name: dict(list(zip(REPORT_COLUMNS, row, strict=True))[1:]) for name, row in cells.items()}


def _final_counts(result: Result, folder: InputTables) -> dict[str, FileCount]:
    """Add what only the rules could say: rows are rejected for want of a rate, replaced, quarantined."""
    counts = {name: replace(count) for name, count in folder.counts.items()}
    for file, _ in {(r.file, r.line) for r in result.rejected}:
        if file in counts:
            counts[file].accepted -= 1
            counts[file].rejected += 1
    for finding in [*folder.findings, *result.findings]:
        if finding.code == "replaced_row" and finding.file in counts:
            counts[finding.file].accepted -= 1
            counts[finding.file].replaced += 1
    quarantine, tables = result.prepared.quarantine, result.prepared.tables
    for name in ("visits", "leads", "conversions"):
        flags, table = getattr(quarantine, name), getattr(tables, name)
        for file in counts:
            if len(table) and table.file.values == [file]:
                counts[file].quarantined = int(flags.sum())
    return counts
