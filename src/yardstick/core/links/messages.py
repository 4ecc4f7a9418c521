"""How many parts a text message takes (3GPP TS 23.038 and TS 23.040)."""

from __future__ import annotations

from dataclasses import dataclass

BASIC = (
    "@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !\"#¤%&'()*+,-./0123456789:;<=>?"
    "¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà"
)
"""The GSM 7 bit default alphabet, TS 23.038 section 6.2.1, without its escape."""
EXTENSION = "\f^{}\\[~]|€"
"""Its extension table, section 6.2.1.1: each takes two septets."""
GSM_ALONE, GSM_PART = 160, 153
UCS2_ALONE, UCS2_PART = 70, 67


@dataclass(frozen=True)
class Message:
    """How a text goes out.

    Attributes
    ----------
    alphabet : "GSM 7 bit" or "UCS-2"
    units : septets, or 16-bit units
    parts : messages it is sent and billed as
    left : units until the next part begins
    odd : characters that make it UCS-2, each once
    """

    alphabet: str
    units: int
    parts: int
    left: int
    odd: str


def count_message(text: str) -> Message:
    """Count the parts of a text message.

    Parameters
    ----------
    text : the whole text, its link included

    Notes
    -----
    A message of one part has 140 octets: 160 septets or 70 units. Each part of a longer one gives 6 octets to the
    header that joins them, TS 23.040 section 9.2.3.24.1, which leaves 153 septets or 67 units. Neither an escaped
    character nor a surrogate pair is cut in two.
    """
    odd = "".join(dict.fromkeys(c for c in text if c not in BASIC and c not in EXTENSION))
    if odd:
        sizes = [2 if ord(c) > 0xFFFF else 1 for c in text]
        return _counted("UCS-2", sizes, UCS2_ALONE, UCS2_PART, odd)
    sizes = [2 if c in EXTENSION else 1 for c in text]
    return _counted("GSM 7 bit", sizes, GSM_ALONE, GSM_PART, "")


def _counted(alphabet: str, sizes: list[int], alone: int, part: int, odd: str) -> Message:
    units = sum(sizes)
    if units <= alone:
        return Message(alphabet, units, 1 if units else 0, alone - units, odd)
    parts, used = 1, 0
    for size in sizes:
        if used + size > part:
            parts, used = parts + 1, 0
        used += size
    return Message(alphabet, units, parts, part - used, odd)
