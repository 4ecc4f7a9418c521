"""The plan of a workspace, read once per version of its settings."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy import Connection

from yardstick.core.base.errors import SettingsError
from yardstick.core.plan.plan import Plan
from yardstick.formats.plan.link_prices import price_records, with_link_prices
from yardstick.formats.plan.plan_document import Document
from yardstick.store.links import rows_after
from yardstick.store.states import settings_text, settings_version

MOST_KEPT = 8


class UnreadablePlan(SettingsError):
    """Settings that are kept and that this version cannot read."""


@dataclass(frozen=True)
class KeptPlan:
    """A version of the settings: its number, its text, the document people edit, the plan it gives."""

    version: int
    text: str
    document: Document
    plan: Plan


class PlanBook:
    """The plans of one workspace."""

    def __init__(self, workspace: int) -> None:
        self._workspace = workspace
        self._kept: OrderedDict[int, KeptPlan] = OrderedDict()
        self._lock = threading.Lock()

    def at(self, connection: Connection, after: int) -> KeptPlan:
        """The plan as it stood after a change; the usual one where none was set.

        Raises
        ------
        UnreadablePlan
            If what is kept cannot be read.
        """
        version = settings_version(connection, self._workspace, after)
        with self._lock:
            found = self._kept.get(version)
        if found is None:
            text = settings_text(connection, self._workspace, after)
            try:
                document = Document(text)
                found = KeptPlan(version, text, document, document.plan())
            except ValueError as problem:
                raise UnreadablePlan(
                    f"the saved settings cannot be read: {problem}. Undo what brought them"
                ) from problem
        with self._lock:
            self._kept[version] = found
            self._kept.move_to_end(version)
            while len(self._kept) > MOST_KEPT:
                self._kept.popitem(last=False)
        return found

    def priced(self, connection: Connection, after: int) -> tuple[KeptPlan, tuple[Mapping[str, str], ...]]:
        """The plan as it stood after a change, and the rows of the link sheet that state a price."""
        rows = rows_after(connection, self._workspace, after)
        return self.at(connection, after), tuple(row.cells for row in rows if row.cells.get("price"))


def text_with_prices(kept: KeptPlan, rows: Sequence[Mapping[str, str]]) -> str:
    """The settings as TOML with the prices of the link sheet, ready for the command line."""
    prices = price_records(rows)
    if not prices:
        return kept.text
    document = kept.document
    return document.with_records("click_price", [*document.records("click_price"), *prices]).text()


def figures_plan(kept: KeptPlan, rows: Sequence[Mapping[str, str]]) -> Plan:
    """The plan with the prices of the link sheet: all that figures depend on."""
    return with_link_prices(kept.plan, rows)
