"""What leads and conversions are now, which of their rows stand, and what they are worth (R9, R10, R20)."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import NO_INSTANT, Amounts, Flags, Ints, Text
from ..base.day_numbers import day_text
from ..base.days import NO_DAY, local_days
from ..base.limits import AMOUNT_BELOW
from ..base.money import FINE, TOO_LARGE, RateTable
from ..base.notes import Finding, Rejected
from ..base.schema import CANCELLED, ROW_ID, TEST
from ..base.tables import Table, Tables
from ..base.words import fold
from ..plan.costing_phase import Money
from ..plan.counting_phase import Goal, Trailing
from ..plan.reading_phase import Reading
from ..plan.renamed_rows import rename_rows
from ..trails.goals import record_values, version_of
from ..trails.present import event_instants, present_of
from ..trails.quarantine import quarantined
from ..trails.refunds import refunded_if_standing
from ..trails.standing import rows_that_stand
from .unrated import Unrated, unrated_rows


@dataclass(frozen=True)
class Worth:
    """What the standing rows of leads or conversions are now and are worth, and what was noticed on the way. `rows` are
    these rows, `total` and `refunded` what is said of their worth, in their own currency."""

    rows: Ints
    version: Ints
    day: Ints
    report_day: Ints
    value: Ints
    total: Amounts
    refunded: Amounts
    stage: Text
    word: Text
    owner: Text
    counts: Flags
    good: Flags
    quarantined: Flags
    rejected: list[Rejected]
    unrated: list[Unrated]
    findings: tuple[Finding, ...]


def worth_of(
    table: Table,
    statuses: Table,
    refunded: Amounts,
    rates: RateTable,
    reading: Reading,
    trailing: Trailing,
    money: Money,
) -> tuple[tuple[Goal, ...], Table, Worth]:
    """The goals of a table's rows, the rows that stand, what they are now, and their worth (R9, R10, R20).

    Whether a row can be accepted depends on a rate, so all rows are valued before one per id is chosen.
    """
    home, digits = money.home_currency, money.minor_digits
    days = local_days(table.ints("occurred_at"), reading.time_zone)
    goals, version = version_of(goal_names(table, days, reading), days, trailing)
    now = present_of(table, statuses)
    value, refused = record_values(table, now.total, refunded, goals, version, days, rates, home, digits)
    own = table.flags("is_test") if "is_test" in table.columns else np.zeros(len(table), np.bool_)
    tests = quarantined(table, own | now.word.test(lambda word: word == TEST), reading)
    # A test record is in quarantine whether it could be accepted or not.
    refused = np.where(tests, FINE, refused)
    means = {fold(said.word): said.means for said in trailing.status_words}
    of_goal = [goals[number].currency for number in version.tolist()]
    standing = rows_that_stand(table, refused != FINE)
    rows = standing.rows
    rejected = refused_rows(table, refused, days, home, of_goal)
    unrated = unrated_rows(table, now.total, refused, days, home, of_goal)
    word = now.word.take(rows)
    event = trailing.event
    counts = word.test(
        lambda text: bool(event and text == event) or (text != CANCELLED and means.get(text) != "does not count")
    )
    report_day = days
    if event:
        instants = event_instants(table, statuses, event)
        there = instants != NO_INSTANT
        report_day = np.where(there, local_days(np.where(there, instants, 0), reading.time_zone), NO_DAY)
    good = word.test(lambda text: means.get(text) == "good")
    findings = (*standing.findings, *_unlisted(table, rows[~tests[rows]], now.word, means))
    worth = Worth(
        rows,
        version[rows],
        days[rows],
        report_day[rows],
        value[rows],
        now.total.take(rows),
        refunded.take(rows),
        now.stage.take(rows),
        word,
        now.owner.take(rows),
        counts,
        good,
        tests[rows],
        rejected,
        unrated,
        findings,
    )
    return goals, only(table, rows), worth


def standing_orders(
    sales: Table, tables: Tables, rates: RateTable, reading: Reading, trailing: Trailing, money: Money
) -> Ints:
    """Rows of conversions that stand, each with what would have been given back of it if it stood (R10, R20)."""
    days = local_days(sales.ints("occurred_at"), reading.time_zone)
    goals, version = version_of(goal_names(sales, days, reading), days, trailing)
    home, digits = money.home_currency, money.minor_digits
    now, refunded = present_of(sales, tables.statuses), refunded_if_standing(sales, tables.refunds, home)
    _, refused = record_values(sales, now.total, refunded, goals, version, days, rates, home, digits)
    tests = quarantined(sales, now.word.test(lambda word: word == TEST), reading)
    return rows_that_stand(sales, np.where(tests, False, refused != FINE)).rows


def _unlisted(table: Table, rows: Ints, word: Text, means: Mapping[str, str]) -> list[Finding]:
    """Status words that nobody gave a meaning, each once, where it first stands."""
    listed = ("", "ok", CANCELLED, TEST)
    unknown = word.test(lambda text: text not in listed and text not in means)[rows]
    out: dict[str, Finding] = {}
    for row in rows[unknown].tolist():
        if word[row] not in out:
            where = (table.file[row], int(table.line[row]))
            name = table.text(ROW_ID[table.name])[row].strip()
            out[word[row]] = Finding("unlisted_status", "note", table.name, name, "status", word[row], None, "", *where)
    return list(out.values())


def only(table: Table, rows: Ints) -> Table:
    return table if len(rows) == len(table) else table.take(rows)


def goal_names(table: Table, days: Ints, reading: Reading) -> Text:
    """(n,) text: the goal each row of leads or conversions converts, as it is called on its day."""
    if table.name == "leads":
        return Text(np.zeros(len(table), np.int32), ["lead"])
    return rename_rows(reading.names, "goal", table.text("goal").map(str.strip), days)


def refused_rows(
    table: Table, refused: Ints, days: Ints, home: str, of_goal: Sequence[str] | None = None
) -> list[Rejected]:
    """Rows whose amount, or the value their goal gives them, cannot be weighed (R20, R29).

    Parameters
    ----------
    refused : (n,) int64, see `money.to_home`
    days : (n,) int64, the day a rate was looked for
    home : home currency
    of_goal : currency of the value that each row's goal gives it
    """
    out = []
    for row in np.flatnonzero(refused != FINE).tolist():
        code = "" if table.name == "leads" else table.text("currency")[row]
        code = of_goal[row] if of_goal and code in ("", home) else code
        column = "currency"
        reason = f"no rate {code} to {home} for {day_text(int(days[row]))} or the 7 days before: add it to rates"
        if refused[row] == TOO_LARGE:
            column = "cost" if table.name == "spend" else "total"
            reason = f"{AMOUNT_BELOW:,} {home} or more: correct the amount, the count or the rate"
        out.append(Rejected(table.name, table.file[row], int(table.line[row]), column, code, reason))
    return out
