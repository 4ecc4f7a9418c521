"""The fields that a report can be broken down by. It loads nothing, so that whoever only names them is quick."""

from __future__ import annotations

MAIN_FIELDS = ("campaign", "source", "medium", "channel")
ROLE_FIELDS = ("group", "ad", "keyword", "placement", "item", "audience")
VARIANT = "variant"
VISIT_FIELDS = ("landing_page", VARIANT, "device")
PRODUCT = "product"
STATES = ("stage", "owner", "status")
REASON, CREATED, CUSTOMER = "reason", "created_month", "customer"
CONVERSION_FIELDS = ("goal", PRODUCT, *STATES, REASON, CREATED, CUSTOMER)
NEW, RETURNING = "new", "returning"
"""Fields that a conversion carries and a touch does not."""
FIELDS = (*MAIN_FIELDS, *ROLE_FIELDS, *VISIT_FIELDS, *CONVERSION_FIELDS, "day", "week", "month")
"""Fields a report can be broken down by, besides `extra:NAME`."""
