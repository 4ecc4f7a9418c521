"""Gather: files rehearsed and kept, sources, invoices."""
