"""Mail senders: how list, series and message of a mail come into its links. What has tags already is left alone."""

from __future__ import annotations

import re
from collections.abc import Mapping

from ..base.words import fold
from ..plan.linking_phase import Sender
from ..reading.tags import FIELDS, parameters, split_address, why_not_an_address
from .addresses import build

KINDS = ("one-off", "series")
SLOTS = ("list", "series", "message")
"""What a mail can say of itself."""
SAMPLES = (
    "https://www.lunnick.example/news",
    "https://www.lunnick.example/news?utm_source=partner&utm_medium=email&utm_campaign=theirs",
    "https://www.lunnick.example/news#fares",
)
"""An untagged link, a tagged one and one with a fragment."""
_SLOT = re.compile(r"\(:([^():]+):\)")


def tag_mail_link(url: str, sender: Sender, values: Mapping[str, str]) -> str:
    """A link of a mail with the sender's tags.

    Parameters
    ----------
    url : as it stands in the mail; what is no web address (mailto, a merge field) is left alone
    sender : of the kind of this mail
    values : by name of `SLOTS`; a slot without a value leaves its field out

    Returns
    -------
    str
        The same address where it has a tag already, but for the sender's own parameters that it lacks.
    """
    if why_not_an_address(url):
        return url
    there = {fold(name) for name, _, _ in parameters(split_address(url)[1])}
    tagged = any(name.startswith("utm_") for name in there)
    fields = {} if tagged else {f"utm_{name}": sender.fields.get(name, "") for name in FIELDS}
    pairs = []
    for name, text in (fields | dict(sender.own)).items():
        slots = _SLOT.findall(text)
        if text and fold(name) not in there and all(values.get(fold(slot)) for slot in slots):
            pairs.append((name, _SLOT.sub(lambda m: values[fold(m.group(1))], text)))
    return build(url, pairs).url if pairs else url
