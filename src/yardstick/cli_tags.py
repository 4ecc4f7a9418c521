"""The command `yardstick tags`: split, build, check and strip tagged addresses."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any, NoReturn

import typer

if TYPE_CHECKING:
    from yardstick.core.links.addresses import LinkFinding
    from yardstick.core.plan.plan import Plan

# What checks is imported by the command that needs it, as in `cli`.
FOUND_ERRORS, WRONG_USAGE = 1, 2

app = typer.Typer(no_args_is_help=True, help="Split, build, check and strip tagged addresses. - reads one a line.")

Urls = Annotated[list[str], typer.Argument(help="Addresses; - reads one a line from standard input.")]
SettingsFile = Annotated[Path | None, typer.Option("--settings", help="Settings as TOML: the plan to check against.")]


@app.command()
def split(urls: Urls, settings: SettingsFile = None) -> None:
    """One JSON object a line: base, parameters and findings of each address."""
    from yardstick.core.links.checkup import Checker

    checker = Checker(_plan(settings))
    for _, url in _each(urls):
        found = checker.check(url)
        said = {"url": url, "base": found.base, "parameters": found.parameters}
        _say(said | {"findings": [_finding(f) for f in found.findings]})


@app.command()
def check(
    urls: Urls,
    settings: SettingsFile = None,
    pattern: Annotated[bool, typer.Option(help="They are patterns: slots are left alone.")] = False,
) -> None:
    """Findings as JSON, one object a line, with the mended address. Exit code 1 if any is an error."""
    from zoneinfo import ZoneInfo

    from yardstick.core.links.checkup import Checker

    plan = _plan(settings)
    today = datetime.now(ZoneInfo(plan.reading.time_zone)).date()
    checker = Checker(plan, today=today)
    worst = 0
    for _, url in _each(urls):
        found = checker.check(url, pattern=pattern)
        _say({"url": url, "findings": [_finding(f) for f in found.findings], "mended": found.mended})
        worst = max(worst, FOUND_ERRORS if found.worst == "error" else 0)
    if worst:
        raise typer.Exit(worst)


@app.command(name="build")
def build_one(
    url: Annotated[str, typer.Option(help="The landing address; - reads one a line from standard input.")],
    source: Annotated[str, typer.Option(help="Which site or sender the visitor comes from.")],
    medium: Annotated[str, typer.Option(help="Which kind of advertising it is.")],
    campaign: Annotated[str, typer.Option(help="The campaign, as the plan writes it.")],
    term: Annotated[str, typer.Option(help="Keyword or what stands in its place.")] = "",
    content: Annotated[str, typer.Option(help="The ad or what tells it apart.")] = "",
    id: Annotated[str, typer.Option(help="The platform's id of the campaign.")] = "",
    extra: Annotated[list[str] | None, typer.Option(help="Further parameters as name=value.")] = None,
) -> None:
    """The address with its tags, one a line; findings go to standard error as JSON, exit code 1 if one is an error."""
    from yardstick.core.links.addresses import as_browsers_read, build, why_not_opened

    pairs = [("utm_source", source), ("utm_medium", medium), ("utm_campaign", campaign)]
    pairs += [("utm_term", term), ("utm_content", content), ("utm_id", id)]
    for pair in extra or []:
        name, equals, value = pair.partition("=")
        if not name or not equals:
            _stop(f"--extra {pair}: write it as name=value")
        pairs.append((name, value))
    worst = 0
    for where, given in _each([url]):
        address = as_browsers_read(given)
        problem = why_not_opened(address)
        if problem:
            sys.stderr.write(f"yardstick: {where}{given}: {problem}\n")
            worst = max(worst, FOUND_ERRORS if where else WRONG_USAGE)
            continue
        built = build(address, pairs)
        print(built.url)
        for finding in built.findings:
            sys.stderr.write(json.dumps(_finding(finding), ensure_ascii=False) + "\n")
            worst = max(worst, FOUND_ERRORS if finding.level == "error" else 0)
    if worst:
        raise typer.Exit(worst)


@app.command()
def strip(urls: Urls, settings: SettingsFile = None) -> None:
    """Each address without its tags and click marks, for sharing."""
    from yardstick.core.links.addresses import strip_tags

    marks = _plan(settings).reading.click_marks
    for _, url in _each(urls):
        print(strip_tags(url, marks))


def _each(urls: list[str]) -> Iterator[tuple[str, str]]:
    """Where each address comes from, empty for one of the command line, and the address."""
    for url in urls:
        if url == "-":
            yield from ((f"line {n}: ", line.strip()) for n, line in enumerate(sys.stdin, 1) if line.strip())
        else:
            yield "", url


def _plan(file: Path | None) -> Plan:
    from yardstick.core.base.errors import SettingsError
    from yardstick.stations.command.plan_of_file import plan_of_file

    try:
        return plan_of_file(file)
    except SettingsError as problem:
        _stop(str(problem))
    except OSError:
        _stop(f"{file}: there is no such file")


def _finding(finding: LinkFinding) -> dict[str, str]:
    said = {"code": finding.code, "level": finding.level, "message": finding.message}
    return (
        said | ({"field": finding.field} if finding.field else {}) | ({"value": finding.value} if finding.value else {})
    )


def _say(said: dict[str, Any]) -> None:
    print(json.dumps(said, ensure_ascii=False))


def _stop(message: str) -> NoReturn:
    sys.stderr.write(f"yardstick: {message}\n")
    raise typer.Exit(WRONG_USAGE)
