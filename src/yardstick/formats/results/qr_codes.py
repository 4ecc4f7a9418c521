"""QR codes (ISO/IEC 18004) as SVG and PNG."""

from __future__ import annotations

import io

import segno

QUIET_ZONE = 4
"""Modules of white around the code, ISO/IEC 18004 section 6.3.8."""
QR_KINDS = {"svg": "image/svg+xml", "png": "image/png"}


def qr_code(text: str, kind: str, error: str = "m") -> bytes:
    """A QR code.

    Parameters
    ----------
    text : what it says
    kind : key of `QR_KINDS`
    error : level of error correction, l m q or h; what fits is not raised, so that the level is the one asked for
    """
    out = io.BytesIO()
    made = segno.make_qr(text, error=error, boost_error=False)
    if kind == "svg":
        made.save(out, kind="svg", border=QUIET_ZONE, scale=4, dark="#000", light="#fff")
    else:
        made.save(out, kind="png", border=QUIET_ZONE, scale=10)
    return out.getvalue()
