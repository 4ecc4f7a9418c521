"""Plan: records changed, tried on real rows, taken in and out as files."""
