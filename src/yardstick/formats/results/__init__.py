"""Results and tables out: CSV, JSON Lines, Parquet, XLSX, pictures."""
