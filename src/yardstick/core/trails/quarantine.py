"""Test records (R9): rows that are kept out of every figure, by their own word, by a rule, or by hand."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from decimal import Decimal, InvalidOperation

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.conditions import condition
from ..base.errors import SettingsError
from ..base.patience import go_on
from ..base.schema import ROW_ID
from ..base.tables import Table
from ..base.words import fold
from ..plan.reading_phase import QuarantineRule, Reading
from ..reading.arrivals import Arrivals, stated_parameters

TEXTS = ("email", "name", "form", "lead_id", "conversion_id", "product")
FIELDS = (*TEXTS, "email_host", "value")
"""What rules look at, besides `parameter:NAME`."""
PARAMETER = "parameter:"
Parameters = Callable[[str], Text]
"""From the folded name of a parameter to what each row's address says of it."""


def check_quarantine(rules: Sequence[QuarantineRule]) -> None:
    """See that every rule can be applied.

    Raises
    ------
    SettingsError
        If one names an unknown field or operator, or holds it against the wrong number of values.
    """
    for number, rule in enumerate(rules, 1):
        where = f"quarantine rule {number}"
        for stated in rule.when:
            name = _field(stated.field)
            if name not in FIELDS and not (name.startswith(PARAMETER) and name != PARAMETER):
                known = ", ".join(FIELDS)
                raise SettingsError(f"{where}: unknown field {stated.field!r}; fields are {known} and parameter:NAME")
            condition(where, stated.op, stated.values, _clean(name))


def quarantined_visits(visits: Table, arrivals: Arrivals, reading: Reading) -> Flags:
    """Visits that are test records: by their flag, by the parameter of test sessions, or by a rule (R9).

    Parameters
    ----------
    visits : the visits table
    arrivals : their addresses as read
    reading : rules and the name of the parameter
    """
    name = fold(reading.test_parameter)
    carries = np.array([any(key == name for key, _ in r.stated) for r in arrivals.readings] or [False], np.bool_)
    said: Flags = visits.flags("is_test") | carries[arrivals.url]
    return quarantined(visits, said, reading, stated_parameters(arrivals, reading))


def quarantined(
    table: Table, said: Flags, reading: Reading, parameters: Mapping[str, tuple[Text, Flags]] | None = None
) -> Flags:
    """Rows that are test records.

    Parameters
    ----------
    table : visits, leads or conversions
    said : (n,) bool, rows that say so themselves
    reading : rules, and what was decided by hand, which goes before everything else
    parameters : of visits, by folded name: (value per row, rows whose address has it)

    Notes
    -----
    A rule on a field that the table does not have does not apply to its rows.
    """
    out = said | (quarantined_by(table, reading, parameters) > 0)
    by_hand = {state.id: state.state for state in reading.records if state.table == table.name}
    if by_hand:
        ids = table.text(ROW_ID[table.name]).trimmed()
        for code, state in zip(ids.codes_of(list(by_hand)), by_hand.values(), strict=True):
            if code >= 0:
                out[ids.codes == code] = state == "quarantined"
    return out


def quarantined_by(table: Table, reading: Reading, parameters: Mapping[str, tuple[Text, Flags]] | None = None) -> Ints:
    """(n,) int64: the first quarantine rule that fits each row, counted from 1; 0: none does. See `quarantined`."""
    out = np.zeros(len(table), np.int64)
    for number, rule in enumerate(reading.quarantine, 1):
        go_on()
        fits = out == 0
        for stated in rule.when:
            name = _field(stated.field)
            test = condition(f"quarantine rule {number}", stated.op, stated.values, _clean(name))
            if name.startswith(PARAMETER):
                if parameters is None:
                    break
                value, there = parameters[name.removeprefix(PARAMETER)]
                test.learn(value.values)
                fits &= np.where(there, value.test(test), test(None))
            elif (column := _column(table, name)) is not None:
                test.learn(column.values)
                fits &= column.test(lambda text, test=test: test(text or None))  # type: ignore[misc]
            else:
                break
        else:
            out[fits] = number
    return out


def _field(text: str) -> str:
    kind, colon, name = text.partition(":")
    return f"{fold(kind)}:{fold(name)}" if colon else fold(text).replace(" ", "_")


def _clean(field: str) -> Callable[[str], str]:
    return _number if field == "value" else fold


def _number(text: str) -> str:
    """A decimal in the one way it is written, so that 0.010 is 0.01."""
    try:
        return format(Decimal(text.strip()).normalize(), "f")
    except InvalidOperation:
        return text.strip()


def _column(table: Table, field: str) -> Text | None:
    if field == "email_host":
        return table.text("email").map(lambda text: text.rpartition("@")[2]) if "email" in table.columns else None
    if field == "value":
        if "total" not in table.columns:
            return None
        total = table.amounts("total")
        known = zip(total.units.tolist(), total.known.tolist(), strict=True)
        return Text.of([format(Decimal(u).scaleb(-total.decimals), "f") if there else "" for u, there in known])
    return table.text(field) if field in table.columns else None
