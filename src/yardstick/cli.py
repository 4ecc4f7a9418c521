"""The command `yardstick`."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated, NoReturn

import typer

from yardstick.alone import leave_pandas_out, use_system_memory
from yardstick.cli_tags import app as tags
from yardstick.core.base.report_fields import FIELDS
from yardstick.core.base.schema import SCHEMA
from yardstick.core.base.version import VERSION
from yardstick.formats.results.result_kinds import FORMATS

# What computes is imported by the command that needs it: to be told how it is called nobody waits for that.
NOTHING_COMPUTED, WRONG_USAGE = 1, 2

app = typer.Typer(add_completion=False, no_args_is_help=True, help="What each campaign cost and what it earned.")

app.add_typer(tags, name="tags")


def _say_version(wanted: bool) -> None:
    if wanted:
        typer.echo(f"yardstick {VERSION}")
        raise typer.Exit


@app.callback()
def yardstick(
    version: Annotated[
        bool, typer.Option("--version", help="Say which version this is.", callback=_say_version, is_eager=True)
    ] = False,
) -> None:
    """What each campaign cost and what it earned, under every yardstick at once."""


@app.command()
def credit(
    input_dir: Annotated[
        Path,
        typer.Argument(
            help=f"Folder with files of {', '.join(SCHEMA)}; visits are required. Its columns tell what a file holds."
        ),
    ],
    out: Annotated[Path, typer.Option(help="Folder for the results; made if missing.")],
    settings: Annotated[Path | None, typer.Option(help="Settings as TOML. Without it the defaults hold.")] = None,
    by: Annotated[
        str, typer.Option(help=f"{', '.join(FIELDS)}, extra:NAME, or two of them with a comma.")
    ] = "campaign",
    where: Annotated[
        list[str] | None,
        typer.Option(help='Show what fits, such as "source is quorrin"; the rest is one row. All must hold.'),
    ] = None,
    format: Annotated[str, typer.Option(help=f"Format of the results: {', '.join(FORMATS)}.")] = "csv",
    certainty: Annotated[
        bool, typer.Option("--certainty", help="Write verdicts, 90 % intervals and maturity, too.")
    ] = False,
) -> None:
    """Attribute the conversions of a folder of files and set them beside the spend."""
    from yardstick.core.base.columns import total
    from yardstick.core.base.errors import SettingsError
    from yardstick.core.report.breakdown import Breakdown
    from yardstick.formats.files.raw import FileProblem
    from yardstick.formats.results.csv_out import money
    from yardstick.stations.command.weigh_folder import credit_folder, table_of, why_no_folder

    if format not in FORMATS:
        _stop(WRONG_USAGE, f"--format {format} is unknown: use {', '.join(FORMATS)}")
    if settings is not None and not settings.is_file():
        _stop(WRONG_USAGE, f"{settings}: there is no such file")
    why = why_no_folder(out)
    if why:
        _stop(WRONG_USAGE, why)
    try:
        weighed = credit_folder(input_dir, out, settings, Breakdown.read(by), where or (), format, certainty)
    except SettingsError as problem:
        _stop(WRONG_USAGE, str(problem))
    except (FileProblem, OSError) as problem:
        _stop(NOTHING_COMPUTED, str(problem))
    result = weighed.result
    beside = input_dir / "settings.toml"
    if settings is None and beside.is_file():
        sys.stderr.write(f"yardstick: {beside} lies here and is not used: --settings {beside} uses it.\n")
    for unread in weighed.folder.unread.values():
        sys.stderr.write(f"yardstick: {unread}. The rest was weighed without it.\n")
    spend = money(total(result.prepared.costs.cost[result.spend_rows]), result.plan.money.minor_digits)
    typer.echo(table_of(result) + "\n")
    typer.echo(
        f"{len(result.trails.conversion)} conversions counted, {spend} {result.plan.money.home_currency} spent, "
        f"fingerprint {result.fingerprint}, results in {out}"
    )


@app.command()
def explain(
    input_dir: Annotated[Path, typer.Argument(help="Folder with visits.csv and the other tables.")],
    conversion_id: Annotated[str, typer.Argument(help="Id of a lead or conversion.")],
    settings: Annotated[Path | None, typer.Option(help="Settings as TOML. Without it the defaults hold.")] = None,
) -> None:
    """One conversion: its trail, and what each touch gets of it under every yardstick."""
    from yardstick.core.base.errors import SettingsError
    from yardstick.formats.files.raw import FileProblem
    from yardstick.stations.command.explain_conversion import NoSuchConversion
    from yardstick.stations.command.weigh_folder import explain_in_folder

    try:
        typer.echo(explain_in_folder(input_dir, settings, conversion_id))
    except SettingsError as problem:
        _stop(WRONG_USAGE, str(problem))
    except (FileProblem, NoSuchConversion, OSError) as problem:
        _stop(NOTHING_COMPUTED, str(problem))


@app.command(name="selfcheck")
def check_yourself() -> None:
    """The worked examples of the rules and published ones, computed by this program; exit code 1 if any is not met."""
    from yardstick.stations.command.tables_of_text import in_columns
    from yardstick.stations.instance.check_program import selfcheck

    found = selfcheck()
    rows = [["", "rule", "example", "wanted", "got", "source"]]
    for c in found:
        both = (c.wanted or "no figure", c.got or "no figure")
        rows.append(["ok" if c.holds else "NO", c.rule, c.example, *both, c.source])
    typer.echo("\n".join(in_columns(rows)))
    wrong = sum(not c.holds for c in found)
    typer.echo(f"\n{len(found) - wrong} of {len(found)} examples hold")
    if wrong:
        raise typer.Exit(NOTHING_COMPUTED)


@app.command()
def read(
    file: Annotated[Path, typer.Argument(help="A file of rows: CSV, JSON Lines, Parquet, XLSX.")],
    settings: Annotated[Path | None, typer.Option(help="Settings as TOML, with the sources.")] = None,
) -> None:
    """What a file becomes: by which source it is read, its first rows, what cannot be read and what would mend it.

    Of a file that no source fits, a source to start from is written out; exit code 1 then.
    """
    from yardstick.core.base.errors import SettingsError
    from yardstick.formats.files.raw import FileProblem
    from yardstick.stations.command.plan_of_file import plan_of_file
    from yardstick.stations.command.show_reading import read_shown

    try:
        text, readable = read_shown(file, plan_of_file(settings))
    except SettingsError as problem:
        _stop(WRONG_USAGE, str(problem))
    except (FileProblem, OSError) as problem:
        _stop(NOTHING_COMPUTED, str(problem))
    typer.echo(text)
    if not readable:
        raise typer.Exit(NOTHING_COMPUTED)


@app.command()
def demo(
    out: Annotated[Path, typer.Argument(help="Folder for the files; made if missing.")],
    clean: Annotated[bool, typer.Option("--clean", help="The world without its troubles.")] = False,
) -> None:
    """Write the files of the demo world, with the ledger of its troubles."""
    from yardstick.demo.files import write_world

    write_world(out, troubled=not clean)
    typer.echo(f"The demo world is in {out}")


def _stop(code: int, message: str) -> NoReturn:
    sys.stderr.write(f"yardstick: {message}\n")
    raise typer.Exit(code)


def main() -> None:
    """Entry point of the command."""
    leave_pandas_out()
    use_system_memory()
    app()
