"""People, touches, conversions, trails."""
