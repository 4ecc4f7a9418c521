"""The board as a file: the rows shown in the order shown, figures as shown and in full, with all that was asked."""

from __future__ import annotations

from collections.abc import Mapping

from yardstick.core.report.judged import Judged
from yardstick.core.report.maturity import LEADS, SALES
from yardstick.core.report.weigh import Result
from yardstick.formats.results.csv_out import credit, figure, money, plain
from yardstick.formats.results.typed_results import result_bytes

from .board_columns import COLUMNS, columns_of
from .board_rows import VERDICT_WORDS, Verdicts, Wanted, in_order, is_found, name_cells
from .question_words import asked_of, file_name
from .weigh_board import Board

SAID = (
    *("roas_low", "roas_high", "cost_per_lead_low", "cost_per_lead_high"),
    *("verdict", "verdict_reason", "lead_verdict", "lead_verdict_reason"),
)
"""Columns of what is said of a campaign."""


def board_file(
    board: Board, wanted: Wanted, verdicts: Verdicts, certainty: tuple[Result, Judged] | None, workspace: str, kind: str
) -> tuple[str, bytes]:
    """The board as a file.

    Parameters
    ----------
    board : what is asked
    wanted, verdicts : order, and which rows are found
    certainty : how sure it is, by campaign
    workspace : its name
    kind : key of `formats.results.sheets.KINDS`

    Returns
    -------
    tuple
        (name without the workspace, content)
    """
    question, plan, name = board.question, board.plan, board.question.yardstick
    digits, by = plan.money.minor_digits, question.by
    others = [y.name for y in plan.crediting.yardsticks]
    said = _said(name, *certainty) if certainty and certainty[1].verdicts else {}
    days = (board.first_day, board.last_day)
    asked = asked_of(question, plan, days, workspace, board.fingerprint, board.data)
    columns = columns_of(wanted.columns)
    in_full = [column for column in columns if not column.is_exact]
    header = [
        *("bucket", *by, "yardstick", *(() if COLUMNS["touches"] in columns else ("touches",))),
        *(column.name for column in columns),
        *(f"{column.name}_full" for column in in_full),
        *(SAID if said else ()),
        *(f"value {other}" for other in others),
        *(f"leads {other}" for other in others),
        *asked,
    ]
    lines = []
    for row in in_order(board.rows, name, wanted, verdicts):
        if is_found(row, wanted, verdicts):
            sums, ratios = row.under[name]
            lines.append(
                [
                    *(row.bucket, *name_cells(row, by), name),
                    *(() if COLUMNS["touches"] in columns else (plain(row.touches),)),
                    *(column.shown(sums, ratios, digits) for column in columns),
                    *(column.in_full(sums, ratios) for column in in_full),
                    *(said.get((row.bucket, row.values), [""] * len(SAID)) if said else ()),
                    *(money(row.under[other][0].value, digits) for other in others),
                    *(credit(row.under[other][0].leads) for other in others),
                    *asked.values(),
                ]
            )
    texts = ("bucket", *by, "yardstick", *asked, *(c for c in SAID if "verdict" in c))
    content = result_bytes(header, lines, kind, texts, digits)
    called = file_name("board", str(question.by), asked["range_from"], "to", asked["range_to"], name, board.fingerprint)
    return f"{called}.{kind}", content


def _said(name: str, result: Result, judged: Judged) -> Mapping[tuple[str, tuple[str, ...]], list[str]]:
    """The cells of `SAID` by bucket and values."""
    verdicts = {(v.place, v.kind): v for v in judged.verdicts}
    out = {}
    for number, place in enumerate(result.places):
        of_place = judged.intervals.get((name, number), {})
        bounds: list[str] = []
        for f in ("roas", "cost_per_lead"):
            one = of_place.get(f)
            bounds += [figure(one.low), figure(one.high)] if one else ["", ""]
        words = [verdicts.get((number, kind)) for kind in (SALES, LEADS)]
        cells = [cell for v in words for cell in ((VERDICT_WORDS[v.code], v.reason) if v else ("", ""))]
        out[place.bucket, place.shown] = [*bounds, *cells]
    return out
