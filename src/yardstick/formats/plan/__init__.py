"""The plan as a document: settings.toml, its records, and lists of them as files."""
