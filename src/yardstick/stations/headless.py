"""Weigh a folder of files, without server or database."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from yardstick.core.breakdown import check_field, check_fields
from yardstick.core.filters import read_filter
from yardstick.core.settings import Settings
from yardstick.core.weigh import Result, weigh
from yardstick.formats.folder import read_folder, write_results
from yardstick.formats.plan_document import Document
from yardstick.formats.settings_toml import read_settings


def settings_of(file: Path | None) -> tuple[Settings, Document]:
    """Settings of a TOML file, and the document they came from; the defaults without one.

    Raises
    ------
    SettingsError
        If they are wrong.
    OSError
        If the file cannot be read.
    """
    if file is None:
        return Settings(), Document("")
    content = file.read_bytes()
    return read_settings(content, file.name), Document(content.decode("utf-8-sig"))


def credit_folder(
    source: Path, out: Path, settings_file: Path | None, by: tuple[str, ...], where: Sequence[str] = ()
) -> Result:
    """Read a folder of tables, weigh it, write the results.

    Parameters
    ----------
    source : folder with visits.csv and the other tables
    out : folder for the results
    settings_file : TOML; without it the defaults hold
    by : fields of the breakdown
    where : filters as `core.filters.read_filter` takes them

    Returns
    -------
    Result

    Raises
    ------
    SettingsError
        If the settings are wrong or ask for what is not built.
    FileProblem
        If nothing can be computed from the files.
    """
    settings, _ = settings_of(settings_file)
    check_fields(by, settings)
    filters = tuple(read_filter(text) for text in where)
    for stated in filters:
        check_field(stated.field, settings)
    folder = read_folder(source, settings.time_zone)
    result = weigh(folder.tables, settings, by, where=filters)
    write_results(result, folder, out)
    return result
