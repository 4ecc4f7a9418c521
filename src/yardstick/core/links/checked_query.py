"""What only shows when all pieces of a query are seen: names that appear twice, values cut in two, missing tags."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from ..plan.plan import Plan
from ..reading.hosts import host_matcher
from ..reading.tags import FIELDS, host_of, split_address
from .checked_link import CheckDraft
from .pieces import Piece

_WHY = {
    "source": "it tells which site or sender the visitor came from",
    "medium": "it tells which kind of advertising it was, and so the channel",
    "campaign": "without it the visit belongs to no campaign and its sales are untagged",
}


def why_required(name: str) -> str:
    """Why a workspace wants a tag in every link of its own."""
    return _WHY.get(name, "this workspace requires it in every link")


class QueryCheck:
    """Checks the pieces of a query together.

    Parameters
    ----------
    plan : its campaigns
    piece : reads a piece
    required : by field of a tag the name it must be there under
    """

    def __init__(self, plan: Plan, piece: Callable[[str], Piece], required: Mapping[str, str]) -> None:
        self._plan, self._piece, self._required = plan, piece, required
        self._same = plan.reading.names.same
        self._ids = {self._same(i) for c in plan.campaigns for i in c.ids}

    def kept(self, texts: Sequence[str], draft: CheckDraft) -> list[str]:
        """The pieces that stay, as they should be written; what is wrong is noted."""
        pieces = [self._piece(text) for text in texts]
        named = {p.key for p in pieces if p.key and not p.came}
        kept: list[str] = []
        first: dict[str, Piece] = {}
        begun = 0
        for number, (text, piece) in enumerate(zip(texts, pieces, strict=True)):
            draft.findings += piece.findings
            before_it, begun = begun, len(kept)
            if piece.came and (piece.key in named or piece.key in first):
                # The tag that was meant is there already: under its name this one would be a second one.
                kept += [piece.came] if piece.text is not None else []
                continue
            if "=" not in text and number and pieces[number - 1].key.startswith("utm_") and not piece.findings:
                before = pieces[number - 1]
                # The value goes on: what was said of its first half, and mended in it, is not so.
                kept[before_it:] = [texts[number - 1]]
                begun = len(kept)
                draft.findings = [f for f in draft.findings if f not in before.findings]
                said = f"behind & of {before.key} stands {text} without a =: write %26 if it belongs to the value"
                draft.note("split_value", said, before.key, text)
            earlier = first.get(piece.key) if piece.key else None
            if earlier is not None:
                if piece.text in (None, earlier.text) or (piece.value and piece.value == earlier.value):
                    draft.note("repeated_name", f"{piece.key} appears twice with one value", piece.key, piece.value)
                    continue
                if piece.value and earlier.value:
                    said = f"{piece.key} appears twice: {earlier.value} counts, {piece.value} does not: remove one"
                    draft.note("repeated_name", said, piece.key, piece.value)
                elif not earlier.value:
                    draft.note(
                        "repeated_name", f"{piece.key} appears twice: {piece.value} counts", piece.key, piece.value
                    )
                    first[piece.key] = piece
            elif piece.key:
                first[piece.key] = piece
            if piece.text is not None:
                kept.append(piece.text)
        values = {name: first[f"utm_{name}"].value if f"utm_{name}" in first else "" for name in FIELDS}
        self._host_of_campaign(split_address(draft.text)[0], values["campaign"], draft)
        if values["id"] and self._same(values["id"]) in self._ids:
            values["campaign"] = values["campaign"] or values["id"]
        for name, key in self._required.items():
            there = values[name] if name in values else key in first and first[key].value
            if not there:
                draft.note("missing_required", f"{key} is missing: {why_required(name)}", key)
        return kept

    def _host_of_campaign(self, base: str, named: str, draft: CheckDraft) -> None:
        planned = self._plan.campaign_of(named) if named else None
        host = host_of(base)
        if planned and planned.host and host and not host_matcher([planned.host])(host):
            text = f"links of {named} lead to {planned.host}, this one to {host}: check the landing page"
            draft.note("wrong_host", text, "", host)
