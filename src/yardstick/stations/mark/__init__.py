"""Mark: the link sheet, patterns, where links are, and what arrives through them."""
