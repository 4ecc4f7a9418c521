"""What one cell says, whatever file it stands in: numbers, days, money, words; and what names of columns mean."""
