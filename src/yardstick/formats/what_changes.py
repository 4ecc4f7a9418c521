"""What each setting changes, in the words of its form: figures, or none."""

from __future__ import annotations

from .sections import SECTIONS

FIGURES = "Changes figures."
VERDICTS = "Changes verdicts, no figure."
FINDINGS = "Changes findings, no figure."
LINKS = "Changes links that are made from now on, no figure."
FILES = "Changes how its files are read from now on, no figure that stands."
SHOWN = "Changes what is shown beside the figures, no figure."
NOTHING = "Changes nothing: it is there to be read."
WITHOUT_FIGURES = (LINKS, FILES, SHOWN, NOTHING)
"""What is said of settings on which no figure, verdict or finding of a report hangs."""

_SECTION = {
    **dict.fromkeys(SECTIONS, FIGURES),
    **dict.fromkeys(("place", "store", "preset", "pattern", "own_slot", "sender", "dialect"), LINKS),
    **{"campaign": SHOWN, "level": LINKS, "allowed": FINDINGS, "source": FILES},
}
_FIELD = {
    **dict.fromkeys((f"campaign.{name}" for name in ("name", "code", "plain_name", "ids", "vouchers")), FIGURES),
    **dict.fromkeys(("campaign.target_roas", "campaign.target_cost_per_lead"), VERDICTS),
    **dict.fromkeys(("campaign.host", "campaign.referrer", "campaign.state"), LINKS),
    **dict.fromkeys(("campaign.remark", "campaign.goal", "campaign.expected_reason", "goal.category"), NOTHING),
    **dict.fromkeys(("level.level", "level.id", "level.name"), FIGURES),
    **dict.fromkeys(("level.text", "level.picture", "landing_page.kind"), SHOWN),
    **dict.fromkeys(("dialect.opens", "dialect.closes", "source.click_mark"), FIGURES),
    **dict.fromkeys(("source.starts", "source.ends", "source.expected_days"), SHOWN),
}
_GENERAL = {
    **dict.fromkeys(("short_base", "referrer"), LINKS),
    "channel_order": SHOWN,
    **dict.fromkeys(("value_case", "value_spaces", "required_tags"), FINDINGS),
    **dict.fromkeys(("target_roas", "target_cost_per_lead", "verdict_minimum", "panel"), VERDICTS),
    **dict.fromkeys(("mature_share", "mature_minimum"), VERDICTS),
}


def what_changes(section: str, field: str) -> str:
    """What a field of a section's records changes, as a sentence.

    Parameters
    ----------
    section : key of `SECTIONS`; empty for settings that are no lists
    field : its name as in settings.toml
    """
    if not section:
        return _GENERAL.get(field, FIGURES)
    return _FIELD.get(f"{section}.{field}", _SECTION[section])
