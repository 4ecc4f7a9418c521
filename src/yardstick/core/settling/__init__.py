"""What stands between the figures and a decision: what a change would move (R33)."""
