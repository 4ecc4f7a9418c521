"""Prices per click that stand in the link sheet, as records of the settings (R18)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from yardstick.core.settings import SettingsError
from yardstick.core.words import fold

from .plan_document import Document

_TAGS = ("source", "medium", "term", "content")


def with_link_prices(text: str, rows: Iterable[Mapping[str, str]]) -> str:
    """Settings with a price per click for every row of the link sheet that has one; unchanged where none has.

    Parameters
    ----------
    text : settings as TOML
    rows : cells of the link sheet; a price that is none, or whose days are, is left out: the sheet says so
    """
    priced = [row for row in rows if row.get("price") and row.get("campaign")]
    if not priced:
        return text
    document = Document(text)
    names = {
        fold(known): c["name"]
        for c in document.records("campaign")
        for known in (c["name"], c.get("code", ""), c.get("plain_name", ""))
        if known
    }
    kept = document.records("click_price")
    for row in priced:
        record: dict[str, Any] = {"campaign": names.get(fold(row["campaign"]), row["campaign"]), "price": row["price"]}
        record |= {tag: row[tag] for tag in _TAGS if row.get(tag)}
        record |= {day: row[cell] for day, cell in (("from", "price_from"), ("to", "price_to")) if row.get(cell)}
        try:
            document.with_records("click_price", [record]).settings()
        except SettingsError:
            continue
        kept.append(record)
    return document.with_records("click_price", kept).text()
