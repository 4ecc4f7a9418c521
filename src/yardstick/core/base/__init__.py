"""What all rooms stand on: columns, tables, days, money, folding, conditions, findings."""
