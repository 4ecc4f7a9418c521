"""Shares of credit, apportioned exactly, one rule a yardstick."""
