"""The plan: records, settings by phase, names."""
