"""One module a file format: what a file holds, as batches of text."""
