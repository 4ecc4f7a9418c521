"""PostgreSQL holds the truth: raw rows for ever, loads, settings; and the columnar snapshot made from it."""
