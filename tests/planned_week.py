"""The worked week with a few rows more, so that every kind of record of the plan has something to change."""

from __future__ import annotations

import csv
import io

from week import week_files

SITE = "https://www.lunnick.example"
OSTREL = "utm_source=ostrel&utm_medium=paid-social&utm_campaign=Two-Island+Year+Card"
MORE = {
    "visits.csv": [
        {
            "visit_id": "v30",
            "occurred_at": "2026-03-06T09:00:00+10:30",
            "visitor_id": "K",
            "url": f"{SITE}/card/?{OSTREL}&utm_content=83015&utm_term=families_30_card&size=wide",
            "device": "tablet",
        },
        {
            "visit_id": "v31",
            "occurred_at": "2026-03-06T10:00:00+10:30",
            "visitor_id": "L",
            "url": f"{SITE}/?utm_source=harnock&utm_medium=video&utm_campaign=!!name!!",
        },
        {
            "visit_id": "v32",
            "occurred_at": "2026-03-06T11:00:00+10:30",
            "visitor_id": "M",
            "url": f"{SITE}/?utm_source=harnock&utm_medium=video&utm_campaign=mnb-26",
        },
    ],
    "conversions.csv": [
        {"conversion_id": "o30", "occurred_at": "2026-03-07T09:00:00+10:30", "goal": "ticket", "visitor_id": "K", "total": "40.00", "product": "Year card"},
        {"conversion_id": "o31", "occurred_at": "2026-03-07T10:00:00+10:30", "goal": "ticket", "visitor_id": "L", "total": "30.00"},
        {"conversion_id": "o32", "occurred_at": "2026-03-07T11:00:00+10:30", "goal": "ticket", "visitor_id": "M", "total": "10.00"},
        {"conversion_id": "o33", "occurred_at": "2026-03-07T12:00:00+10:30", "goal": "ticket", "total": "50.00", "code": "whale26"},
    ],
}  # fmt: skip


def planned_week_files() -> list[tuple[str, bytes]]:
    """(name, content) of every file."""
    out = []
    for name, content in week_files():
        if name in MORE:
            rows = list(csv.DictReader(io.StringIO(content.decode()))) + MORE[name]
            columns = list(dict.fromkeys(column for row in rows for column in row))
            text = io.StringIO(newline="")
            writer = csv.DictWriter(text, columns, restval="", lineterminator="\n")
            writer.writeheader()
            writer.writerows(rows)
            content = text.getvalue().encode()
        out.append((name, content))
    return out
