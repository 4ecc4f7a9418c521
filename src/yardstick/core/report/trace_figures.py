"""Figures that can be traced, and what of a credit each stands on."""

from __future__ import annotations

CREDIT_FIGURES = ("leads", "good_leads", "conversions", "new_customers", "value")
EVERYTHING = "everything"
"""All conversions of a part of the tie line, those worth nothing among them."""
SPEND_FIGURES = ("spend", "impressions", "clicks", "claimed_conversions", "claimed_value")
RATIOS = {
    "cost_per_lead": "leads",
    "cost_per_good_lead": "good_leads",
    "cost_per_conversion": "conversions",
    "cost_per_new_customer": "new_customers",
    "roas": "value",
    "profit": "value",
}
"""Ratio -> the credit figure it sets beside the spend."""
OF_TOUCHES = {"touches": "", "bounce_rate": "", "conversion_rate": "conversions", "value_per_touch": "value"}
"""Figure of touches -> the credit figure it sets beside them, if any."""
CREDIT_ALONE = {"average_value": "conversions", "good_rate": "leads"}
"""Ratio of credit alone -> the credit figure it is of."""
FIGURES = (*CREDIT_FIGURES, *SPEND_FIGURES, "cost_per_click", *RATIOS, *OF_TOUCHES, *CREDIT_ALONE)
