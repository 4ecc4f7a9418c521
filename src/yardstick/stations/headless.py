"""Weigh a folder of files, without server or database."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from yardstick.core.plan.plan import Plan
from yardstick.core.report.breakdown import check_field, check_fields
from yardstick.core.report.filters import read_filter
from yardstick.core.report.weigh import Result, weigh
from yardstick.formats.folder import read_folder, write_results
from yardstick.formats.settings_toml import read_settings


def plan_of_file(file: Path | None) -> Plan:
    """The plan that a TOML file states; the usual one without a file.

    Raises
    ------
    SettingsError
        If they are wrong.
    OSError
        If the file cannot be read.
    """
    if file is None:
        return Plan()
    return read_settings(file.read_bytes(), file.name)


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
    plan = plan_of_file(settings_file)
    check_fields(by, plan.reading)
    filters = tuple(read_filter(text) for text in where)
    for stated in filters:
        check_field(stated.field, plan.reading)
    folder = read_folder(source, plan.reading.time_zone)
    result = weigh(folder.tables, plan, by, where=filters)
    write_results(result, folder, out)
    return result
