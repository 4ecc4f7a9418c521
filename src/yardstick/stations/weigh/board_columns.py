"""The figures a board can show: declared once, for screen, sorting, file and trace."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from fractions import Fraction
from typing import Literal

from yardstick.core.base.errors import SettingsError
from yardstick.core.report.figures import Figures, Sums
from yardstick.formats.results.csv_out import credit, figure, money, plain

from .shown_figures import as_shown, credit_sent, ratio_sent

Value = Fraction | Decimal | int | None
Kind = Literal["money", "amount", "credit", "count", "ratio", "share"]
"""What a figure is: minor units, an amount per thing, parts of conversions, a whole number, a ratio, a part of 1."""
PLACES = {"credit": 1, "ratio": 2, "share": 3}
"""Decimals with which the board shows figures; amounts have those of the currency, shares are shown in per cent."""


@dataclass(frozen=True)
class BoardColumn:
    """A figure of the board.

    Attributes
    ----------
    name : in addresses and files
    title : its head
    kind : what it is
    none : why there may be none, where there is spend
    figure : what the core calls it, in sums, ratios and traces; empty = as its name
    """

    name: str
    title: str
    kind: Kind
    none: str = ""
    figure: str = ""

    @property
    def traced(self) -> str:
        """The figure of the trace it is made of."""
        return self.figure or self.name

    @property
    def is_exact(self) -> bool:
        """Whether it is shown in full."""
        return self.kind in ("money", "count")

    def of(self, sums: Sums, ratios: Figures) -> Value:
        """The figure of a row under a yardstick; None = no figure."""
        found: Value = getattr(sums if hasattr(sums, self.traced) else ratios, self.traced)
        return found

    def sent(self, sums: Sums, ratios: Figures) -> float | int | None:
        """The figure for the screen; see `shown_figures`."""
        value = self.of(sums, ratios)
        if value is None or self.is_exact:
            return None if value is None else int(value)
        exact = value if isinstance(value, Fraction) else Fraction(value)
        return credit_sent(exact) if self.kind == "credit" else ratio_sent(exact)

    def shown(self, sums: Sums, ratios: Figures, digits: int) -> str:
        """The figure as the screen shows it, for a file; of `digits` decimals of the currency."""
        if not self.is_exact:
            return as_shown(self.sent(sums, ratios), PLACES.get(self.kind, digits))
        value = self.of(sums, ratios)
        whole = None if value is None else int(value)
        return money(whole, digits) if self.kind == "money" else plain(whole)

    def in_full(self, sums: Sums, ratios: Figures) -> str:
        """A figure that is not shown in full, in full, for a file."""
        value = self.of(sums, ratios)
        exact = None if value is None else Fraction(value)
        return credit(exact) if self.kind == "credit" else figure(exact)


COLUMNS = {
    column.name: column
    for column in (
        BoardColumn("spend", "Spend", "money"),
        BoardColumn("leads", "Leads", "credit"),
        BoardColumn("cost_per_lead", "Cost / lead", "amount", "no lead credited, so no cost per lead"),
        BoardColumn("sales", "Sales", "credit", figure="conversions"),
        BoardColumn("value", "Value", "money"),
        BoardColumn("roas", "ROAS", "ratio", "nothing was spent, so no return on spend"),
        BoardColumn("clicks", "Clicks", "count"),
        BoardColumn("touches", "Touches", "count", "no touch came before"),
        BoardColumn("cost_per_click", "Cost / click", "amount", "no click was reported"),
        BoardColumn("conversion_rate", "Converted", "share", "no touch, so no share of them converted"),
        BoardColumn("bounce_rate", "Bounced", "share", "no touch that is a click"),
        BoardColumn("value_per_touch", "Value / touch", "amount", "no touch, so no value of one"),
        BoardColumn("good_leads", "Good leads", "credit"),
        BoardColumn("good_rate", "Good", "share", "of no lead it is known whether it is good"),
        BoardColumn("cost_per_good_lead", "Cost / good", "amount", "no good lead credited, so no cost of one"),
        BoardColumn("new_customers", "New cust.", "credit"),
        BoardColumn("cost_per_new_customer", "Cost / new", "amount", "no new customer credited, so no cost of one"),
        BoardColumn(
            "cost_per_sale", "Cost / sale", "amount", "no sale credited, so no cost of one", "cost_per_conversion"
        ),
        BoardColumn("average_value", "Avg. value", "amount", "no sale credited, so no value of one"),
        BoardColumn("profit", "Profit", "money"),
        BoardColumn("impressions", "Seen", "count"),
        BoardColumn("claimed_conversions", "Claimed", "credit"),
        BoardColumn("claimed_value", "Claimed value", "money"),
    )
}
"""Every figure of `result.csv`, and the good rate."""
SETS = {
    "money": ("spend", "leads", "cost_per_lead", "sales", "value", "roas"),
    "traffic": ("clicks", "touches", "cost_per_click", "conversion_rate", "bounce_rate", "value_per_touch"),
    "quality": ("leads", "good_leads", "good_rate", "cost_per_good_lead", "new_customers", "cost_per_new_customer"),
}
"""Columns that are picked together."""


def columns_of(asked: Sequence[str]) -> list[BoardColumn]:
    """The columns a board is to show.

    Parameters
    ----------
    asked : names of columns, or of `SETS`, in order; none = money

    Raises
    ------
    SettingsError
        If there is no such column.
    """
    names = [name for one in asked or ("money",) for name in SETS.get(one, (one,))]
    unknown = next((name for name in names if name not in COLUMNS), None)
    if unknown is not None:
        raise SettingsError(f"there is no column {unknown!r}; there are {', '.join((*SETS, *COLUMNS))}")
    return [COLUMNS[name] for name in dict.fromkeys(names)]
