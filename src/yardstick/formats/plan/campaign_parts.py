"""Campaigns and the tree under them, as written in settings.toml."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import Literal

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.plan.campaign_records import Campaign, Level

from .part_fields import Day, LevelName, Name, NotNegative, Positive, Referrer, Word, described_field
from .section import RecordPart, Section
from .what_changes import FIGURES, LINKS, NOTHING, SHOWN, VERDICTS


class CampaignPart(RecordPart):
    """A campaign, known before its first link."""

    core = Campaign

    name: Name = described_field("The campaign as it stands in spend files and reports.", "Spring Whale Boats")
    code: Word = described_field(
        "Short and safe to show outsiders; links carry it in place of the name.", "swb-26", default=""
    )
    plain_name: Word = described_field(
        "What reports show; inside only, never in a link.", "Whale season opener", default=""
    )
    remark: Word = described_field("Anything worth knowing.", "second year, new pictures", default="")
    starts: Day | None = described_field(
        "First day; empty for an ongoing campaign. What came is counted from it.", "2026-09-01", default=None
    )
    ends: Day | None = described_field(
        "Last day; empty for an ongoing campaign. What came is counted up to it, links have ended after it.",
        "2026-11-30",
        default=None,
    )
    owner: Word = described_field(
        "Who answers for it: whom Placing names where a link must be mended.", "Maren", default=""
    )
    budget: NotNegative | None = described_field(
        "What it may cost in all, in the home currency: it stands beside its spend.",
        "12000.00",
        default=None,
    )
    goal: Word = described_field("The goal it works for.", "ticket", default="")
    target_roas: Positive | None = described_field(
        "Its own target, value per unit of spend: its second notch, and what its verdict is measured against.",
        "4.0",
        default=None,
    )
    target_cost_per_lead: Positive | None = described_field(
        "Its own target, in the home currency: what its verdict by leads is measured against.", "60.00", default=None
    )
    state: Literal["draft", "approved", "stopped"] = described_field(
        "A draft's links must not be placed; stopped is a note for readers.",
        "draft",
        default=Campaign.state,
    )
    host: Word = described_field(
        "The host its links lead to; empty for any of your own.", "www.lunnick.example", default=""
    )
    referrer: Referrer | None = described_field(
        "What its short links tell pages about where the visitor comes from.", "host", default=None
    )
    ids: list[Word] = described_field(
        "Its ids on ad platforms; arrivals and spend with one of them are its own.", "q-101", default=[]
    )
    vouchers: list[Word] = described_field(
        "Voucher and spoken codes; a lead or order that names one is its own.", "WHALE26", default=[]
    )
    expected_leads: NotNegative | None = described_field(
        "Leads it should bring: they stand beside those that came.", "40", default=None
    )
    expected_value: NotNegative | None = described_field(
        "Value it should bring, in the home currency: it stands beside the value that came.",
        "30000.00",
        default=None,
    )
    expected_reason: Word = described_field("Why so much; to be read.", "last spring, plus the new pier", default="")
    locked_on: Day | None = described_field(
        "The day the expectation was locked; from then on it stays.", "2026-08-20", default=None
    )


class LevelPart(RecordPart):
    """One entry of the tree under a campaign: a platform's id beside the name people know it by."""

    core = Level

    campaign: Name = described_field("The campaign it is under.", "Spring Whale Boats")
    level: LevelName = described_field("Which level of the tree it is.", "ad")
    id: Word = described_field("The platform's id, as links and spend files carry it.", "83015", default="")
    name: Name = described_field("The name reports show in place of the id.", "Humpback at dawn")
    platform: Word = described_field("The ad platform.", "Quorrin", default="")
    account: Word = described_field("The account on it.", "q-main", default="")
    under: Word = described_field("The entry above it, if any.", "Whale search, exact", default="")
    text: Word = described_field("For an ad: what it says.", "See them from the foredeck", default="")
    picture: Word = described_field("For an ad: name of its picture.", "humpback-dawn.jpg", default="")


def _names(
    what: str, get: Callable[[CampaignPart], Iterable[str]]
) -> tuple[str, Callable[[CampaignPart], Iterable[str]]]:
    return what, lambda part: (fold(text) for text in get(part) if text)


def _check_campaigns(parts: Sequence[CampaignPart], _: Sequence[str]) -> None:
    names = {fold(c.name): c.name for c in parts}
    for c in parts:
        for what, other in (("code", c.code), ("plain name", c.plain_name)):
            owner = names.get(fold(other)) if other else None
            if owner is not None and owner != c.name:
                raise SettingsError(f"campaign {c.name!r}: its {what} is the name of {owner!r}: choose another")
        if c.starts and c.ends and c.ends < c.starts:
            raise SettingsError(f"campaign {c.name!r} ends before it starts: swap its days")


CAMPAIGN = Section(
    "campaign",
    CampaignPart,
    plan_field="campaigns",
    title="Campaigns",
    one="campaign",
    purpose="Known before their links. Codes, ids and vouchers join arrivals and spend to them; reports show the plain "
    "name.",
    columns=("name", "plain_name", "code", "state", "starts", "ends", "owner"),
    changes=SHOWN,
    except_for={
        **dict.fromkeys(("name", "code", "plain_name", "ids", "vouchers"), FIGURES),
        **dict.fromkeys(("target_roas", "target_cost_per_lead"), VERDICTS),
        **dict.fromkeys(("host", "referrer", "state"), LINKS),
        **dict.fromkeys(("remark", "goal", "expected_reason"), NOTHING),
    },
    once=(
        _names("campaign", lambda c: [c.name]),
        _names("the code", lambda c: [c.code]),
        _names("the plain name", lambda c: [c.plain_name]),
        _names("the campaign id", lambda c: c.ids),
        _names("the voucher code", lambda c: c.vouchers),
    ),
    check=_check_campaigns,
)

LEVEL = Section(
    "level",
    LevelPart,
    plan_field="levels",
    title="Level tree",
    one="name for an id",
    purpose="Groups, ads, keywords and placements under a campaign: the name reports show in place of an id.",
    columns=("campaign", "level", "id", "name", "platform", "under"),
    changes=LINKS,
    except_for={**dict.fromkeys(("level", "id", "name"), FIGURES), **dict.fromkeys(("text", "picture"), SHOWN)},
)
