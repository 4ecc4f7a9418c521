"""One file of a rehearsal read in another way."""

from __future__ import annotations

from collections.abc import Mapping

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.schema import SCHEMA
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.files.workbooks import reading_once
from yardstick.formats.plan.settings_toml import plan_from
from yardstick.formats.plan.source_parts import SourcePart, record_of
from yardstick.formats.sources.guessing import guess
from yardstick.formats.sources.questions.registry import answered, settled_by_hand

from ..workspace.desk import Desk
from .rehearse_file import FileRehearsal, by_guess, own_record, rehearse_file
from .uploads import GivenFile, classify_uploads
from .waiting_files import Record, UploadReading, choose, plain_name, reading_of, uploaded


@reading_once()
def read_otherwise(
    desk: Desk,
    token: str,
    name: str,
    part: SourcePart | None,
    called: str,
    answers: Mapping[str, str] | None = None,
) -> FileRehearsal:
    """Rehearse one file of a rehearsal again, read in another way.

    Parameters
    ----------
    desk : the workspace
    token : of the rehearsal
    name : of the file
    part : how to read it
    called : where `part` is None, the name of a source to read it by, of a table to guess under, or nothing
    answers : to questions, by what they are about; they change the way it is read, and are kept with it

    Raises
    ------
    FileProblem
        If there is no such file in the rehearsal.
    SettingsError
        If the source is none that can be, or there is none of that name.
    """
    folder = desk.uploads / token
    there = uploaded(folder) if token.isalnum() and folder.is_dir() else []
    path = next((path for known, path in there if known == plain_name(name)), None)
    if path is None:
        raise FileProblem(f"{name}: that file is not in this rehearsal any more: choose it again")
    # Settings that were given together with the file hold for it.
    _, _, by = classify_uploads(desk, [one for one in there if one[0].lower().endswith(".toml")])
    if part is None and called and called not in SCHEMA:
        part = next((known for known in by.parts if known.name == called), None)
        if part is None:
            raise SettingsError(f"there is no source called {called!r}: reload the list")
    before = reading_of(path)
    if part is None and not answers:
        with path.open("rb") as stream:
            made = guess(name, stream, by.plan, called)
        return by_guess(desk, name, path, by, made)
    given: Record | None = record_of(part) if part is not None else before.record
    record = dict(given) if given is not None else own_record(name, path, by)
    if before.record is not None and part is not None:
        still = [q.field for q in before.asked] if not before.open else [*before.open_fields]
        record = settled_by_hand(before.record, record, still)
    asked = before.asked
    for about, answer in (answers or {}).items():
        record = answered(record, about, answer)
        if about in ("encoding", "table"):
            # Names and cells are other ones then: all else is guessed anew.
            with path.open("rb") as stream:
                made = guess(name, stream, by.plan, str(record["table"]), str(record.get("encoding", "")))
            record = made.record | {"answers": {**record.get("answers", {}), about: answer}}
            asked = (*(q for q in asked if q.field == about), *(q for q in made.asked if q.field != about))
    made_part = SourcePart.model_validate(record)
    # As if it stood in the plan: the same limits at both doors.
    plan_from({"source": [record_of(made_part)]}, "source")
    reading = UploadReading(record_of(made_part), asked=asked)
    choose(path, reading)
    return rehearse_file(desk, GivenFile(name, made_part.table, path, reading), by)
