"""What is kept of one question for the next one on the same rows changes no figure."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from ledgers import same_bytes
from worlds import choices, into_core, worlds
from yardstick.core.base import machine_code
from yardstick.core.credit import summing
from yardstick.core.report.breakdown import Breakdown
from yardstick.core.report.filters import read_filter
from yardstick.core.report.weigh import weigh
from yardstick.formats.results.csv_out import credit_rows, report_rows

FIELDS = [Breakdown.read(by) for by in ("campaign", "channel", "goal", "day,campaign", "campaign,product")]
FILTERS = [(), ("source is quorrin",), ("product is Boat",)]
CHANGES = [{}, {"direct": "yield"}, {"views": "yield"}, {"report_to": None}]
"""What of a plan changes trails and leaves everything that was read."""
questions = st.tuples(st.sampled_from(FIELDS), st.sampled_from(FILTERS), st.sampled_from(CHANGES))


@examples(30)
@given(worlds(), choices(), st.lists(questions, min_size=2, max_size=5), st.booleans())
def test_one_question_after_another_gives_what_each_gives_alone(world, both, asked, compiled):
    tables, plan = into_core(world), both[1]
    with pytest.MonkeyPatch.context() as patch:
        fewest = 0 if compiled else 2**60
        patch.setattr(summing, "FEWEST", fewest)
        patch.setattr(machine_code, "FEWEST", fewest)
        patch.setattr(summing, "COMPILED_FROM", 0)
        prepared = weigh(tables, plan).prepared
        last = None
        for by, filters, changes in asked:
            mine, where = plan.having(**changes), tuple(map(read_filter, filters))
            again, alone = weigh(tables, mine, by, where=where, prepared=prepared), weigh(tables, mine, by, where=where)
            # Else nothing was kept, and this proves nothing.
            assert last is None or last[0] != changes or again.whole is last[1]
            last = changes, again.whole
            assert same_bytes(again.ledger, alone.ledger)
            assert list(report_rows(again)) == list(report_rows(alone))
            assert list(credit_rows(again)) == list(credit_rows(alone))
