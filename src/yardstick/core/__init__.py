"""The rules of the job, on columns. No file, no database, no clock, no web in here."""
