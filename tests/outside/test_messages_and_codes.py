"""Text messages against 3GPP TS 23.038, QR codes against another reader (ISO/IEC 18004)."""

from __future__ import annotations

import io

import pytest
import zxingcpp
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from yardstick.core.links.messages import BASIC, EXTENSION, count_message
from yardstick.formats.results.qr_codes import QUIET_ZONE, qr_code

LINK = "https://go.lunnick.example/~/whales"


@pytest.mark.parametrize(
    ("text", "alphabet", "units", "parts"),
    [
        # 160 septets alone, 153 in each part of more; 70 and 67 units of UCS-2.
        ("a" * 160, "GSM 7 bit", 160, 1),
        ("a" * 161, "GSM 7 bit", 161, 2),
        ("a" * 306, "GSM 7 bit", 306, 2),
        ("a" * 307, "GSM 7 bit", 307, 3),
        ("ж" * 70, "UCS-2", 70, 1),
        ("ж" * 71, "UCS-2", 71, 2),
        ("ж" * 134, "UCS-2", 134, 2),
        ("ж" * 135, "UCS-2", 135, 3),
        # The extension table takes two septets a character.
        ("€" * 80, "GSM 7 bit", 160, 1),
        ("a" * 159 + "€", "GSM 7 bit", 161, 2),
        # A pair that does not fit at the end of a part goes into the next one: 152 + a pair.
        ("a" * 152 + "€" + "a" * 152, "GSM 7 bit", 306, 3),
        # A character beyond the basic plane is two units and is not cut.
        ("🐋" * 35, "UCS-2", 70, 1),
        ("🐋" * 66 + "ж" * 2, "UCS-2", 134, 3),
        ("é ñ à ü § ¿", "GSM 7 bit", 11, 1),
        ("ê", "UCS-2", 1, 1),
        ("", "GSM 7 bit", 0, 0),
    ],
)
def test_messages_have_the_parts_the_standard_gives_them(text, alphabet, units, parts):
    message = count_message(text)
    assert (message.alphabet, message.units, message.parts) == (alphabet, units, parts)


def test_the_alphabet_has_its_size_and_odd_characters_are_named():
    assert len(BASIC) == len(set(BASIC)) == 127  # 128 places, one of them the escape
    assert len(set(EXTENSION)) == 10
    assert count_message("Boot ab 9 Uhr – „Wale“").odd == "–„“"


@given(st.text(alphabet=BASIC + EXTENSION, max_size=700))
def test_parts_and_what_is_left_add_up(text):
    message = count_message(text)
    room = 160 if message.parts <= 1 else 153 * message.parts
    assert 0 <= message.left <= room
    # A pair pushed to the next part wastes at most one septet a part.
    assert room - message.left - message.units <= message.parts


@pytest.mark.parametrize("error", ["l", "m", "q", "h"])
@pytest.mark.parametrize(
    "text", [LINK, "https://www.lunnick.example/boats?utm_source=ostrel&utm_campaign=caf%C3%A9" + "&x=1" * 60]
)
def test_a_code_is_read_back_by_another_library(text, error):
    image = Image.open(io.BytesIO(qr_code(text, "png", error)))
    (found,) = zxingcpp.read_barcodes(image)
    assert found.text == text
    assert found.ec_level == error.upper()


def test_a_code_has_its_quiet_zone_and_is_the_same_as_svg():
    """ISO/IEC 18004: four modules of white on every side."""
    image = Image.open(io.BytesIO(qr_code(LINK, "png"))).convert("L")
    box = Image.eval(image, lambda v: 255 - v).getbbox()
    scale = 10
    assert box == (
        QUIET_ZONE * scale,
        QUIET_ZONE * scale,
        image.width - QUIET_ZONE * scale,
        image.height - QUIET_ZONE * scale,
    )
    svg = qr_code(LINK, "svg").decode()
    assert svg.lstrip().startswith("<?xml") or svg.startswith("<svg")
    assert "<script" not in svg
