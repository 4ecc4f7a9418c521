"""What was asked of a figure, in words that go with it wherever it is taken."""

from __future__ import annotations

from yardstick.core.plan.plan import Plan
from yardstick.formats.results.csv_out import plain

from .weigh_board import BoardQuestion


def asked_of(
    question: BoardQuestion, plan: Plan, days: tuple[str, str], workspace: str, fingerprint: str, data: str
) -> dict[str, str]:
    """Range, look-back, filters and fingerprint, as columns of a file.

    Parameters
    ----------
    question : what was asked
    plan : with what the question changes
    days : first and last day of the data, where the range is open
    workspace : its name
    fingerprint, data : of the result and of its data
    """
    reporting = plan.reporting
    own_windows = any(goal.click_days is not None for goal in plan.goals)
    return {
        "range_from": reporting.report_from.isoformat() if reporting.report_from else days[0],
        "range_to": reporting.report_to.isoformat() if reporting.report_to else days[1],
        "date_basis": reporting.date_basis,
        "look_back_days": "per goal" if own_windows else plain(plan.windows.window.click_days),
        "filters": "; ".join(question.where),
        "currency": plan.money.home_currency,
        "workspace": workspace,
        "fingerprint": fingerprint,
        "data_state": data,
    }


def file_name(*parts: str) -> str:
    """Parts of a name as they can stand in the name of a file everywhere."""
    text = "-".join(part.strip("-") for part in parts if part.strip("-"))
    return "".join(c if c.isascii() and (c.isalnum() or c in "-._") else "_" for c in text)
