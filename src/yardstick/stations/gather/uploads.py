"""What files that wait are: settings, a package, or rows of a table, and by what they are read."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.schema import SCHEMA
from yardstick.core.plan.gathering_phase import REFUNDS, TAG_COLUMNS, Source
from yardstick.core.plan.plan import Plan
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.packages import Package
from yardstick.formats.plan.plan_document import Document
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.plan.source_parts import SourcePart, record_of
from yardstick.formats.sources.sourcing import open_by, source_for

from ..workspace.desk import Desk
from .ground_rules import settings_text
from .waiting_files import BY_ITS_NAMES, UploadReading, reading_of

ORDER = (
    *("settings", "rates", "spend", "other_costs", "visits", "leads", "conversions", "refunds", "statuses"),
    *("deal_contacts", "order_lines", "invoices", "ads", "package"),
)
"""In which order tables are kept."""


@dataclass(frozen=True)
class GivenFile:
    """A file that can be read: settings, or the rows of a table."""

    name: str
    table: str
    path: Path
    reading: UploadReading = BY_ITS_NAMES
    derived: bool = False
    """Whether its rows are some of a file that is kept as another table, too."""


@dataclass(frozen=True)
class Meant:
    """By what files are read: the plan, and its sources as they are kept."""

    plan: Plan
    parts: tuple[SourcePart, ...]

    def zone(self, source: Source | None) -> str:
        """Time zone of times without an offset."""
        return (source.time_zone if source else "") or self.plan.reading.time_zone

    def knows(self, part: SourcePart) -> bool:
        """Whether a source is kept just so."""
        return any(record_of(known) == record_of(part) for known in self.parts)


def meant(desk: Desk) -> Meant:
    """By what files are read in a workspace."""
    kept = desk.kept_plan()
    return Meant(kept.plan, tuple(SourcePart.model_validate(r) for r in kept.document.records("source")))


@dataclass(frozen=True)
class TableColumn:
    """A column of a table: its name in files, what it holds, whether it must be filled."""

    name: str
    kind: str
    required: bool


def tables_there() -> dict[str, list[TableColumn]]:
    """The tables that rows can go into; of visits also the tags that columns of their own may carry."""
    out = {t: [TableColumn(c.called, c.kind.value, c.required) for c in columns] for t, columns in SCHEMA.items()}
    out["visits"] += [TableColumn(name, "tag", False) for name in TAG_COLUMNS]
    return out


def classify_uploads(
    desk: Desk, paths: Sequence[tuple[str, Path]], chosen: bool = False
) -> tuple[list[GivenFile], dict[Path, FileProblem], Meant]:
    """Which files can be used, in loading order; why the others cannot, by path; and by what they are read.

    Parameters
    ----------
    desk : the workspace
    paths : (name, path)
    chosen : whether how each is read was settled in its rehearsal
    """
    given: list[GivenFile] = []
    problems: dict[Path, FileProblem] = {}
    by = meant(desk)
    seen: set[str] = set()
    rows: list[tuple[str, Path]] = []
    for name, path in paths:
        if name in seen:
            problems[path] = FileProblem(f"{name}: two files have this name: rename one")
        elif name.lower().endswith(".toml"):
            try:
                text = settings_text(desk, name, path)
                plan = read_settings(text.encode(), name)
                records = Document(text).records("source")
                by = Meant(plan, tuple(SourcePart.model_validate(record) for record in records))
                given.append(GivenFile(name, "settings", path))
            except SettingsError as problem:
                problems[path] = FileProblem(str(problem))
        elif name.lower().endswith(".zip"):
            try:
                Package(name, path)
                given.append(GivenFile(name, "package", path))
            except FileProblem as problem:
                problems[path] = problem
        else:
            rows.append((name, path))
        seen.add(name)
    for name, path in rows:
        try:
            reading = reading_of(path) if chosen else _reading_for(name, path, by)
            if reading.open:
                raise FileProblem(f"{name}: choose how to read this file first")
            with path.open("rb") as stream:
                file = GivenFile(name, open_by(name, stream, reading.source).header.table, path, reading)
            given.append(file)
            refunds = refunds_of(file)
            given += [refunds] if refunds is not None and chosen else []
        except FileProblem as problem:
            problems[path] = problem
    # Rows are ordered by the names of the files they came in (R20).
    return sorted(given, key=lambda f: (ORDER.index(f.table), f.name)), problems, by


def refunds_of(file: GivenFile) -> GivenFile | None:
    """The rows of a file of conversions that are refunds, as a file of those; None where it has none."""
    record = file.reading.record
    if record is None or file.table != "conversions" or record.get("negative") != REFUNDS:
        return None
    kept = {name: record[name] for name in _SHARED if name in record}
    columns = {_REFUND.get(name, name): written for name, written in record.get("columns", {}).items()}
    own = {c.called for c in SCHEMA["refunds"]}
    joins = [j | {"into": _REFUND.get(j["into"], j["into"])} for j in record.get("join", [])]
    refunds = kept | {
        "table": "refunds",
        "columns": {name: written for name, written in columns.items() if name in own},
        "constant": {name: text for name, text in record.get("constant", {}).items() if name == "currency"},
        "join": [join for join in joins if join["into"] in own],
        "id": ["conversion_id", "occurred_at", "amount"],
    }
    return GivenFile(
        file.name, "refunds", file.path, UploadReading(record_of(SourcePart.model_validate(refunds))), derived=True
    )


_REFUND = {"total": "amount"}
_SHARED = (
    *("name", "time_zone", "currency", "encoding", "delimiter", "sheet", "skip_top", "headed", "total", "sums", "date"),
    *("decimal", "thousands", "nothing", "currency_signs", "signs", "negative"),
)
"""What a source of refunds has of the one of the orders they stand among."""


def _reading_for(name: str, path: Path, by: Meant) -> UploadReading:
    """The source that a file fits, as it is kept."""
    with path.open("rb") as stream:
        source = source_for(name, stream, [part.plain() for part in by.parts])
    return UploadReading(next((record_of(part) for part in by.parts if source and part.name == source.name), None))
