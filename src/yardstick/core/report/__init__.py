"""From the ground to the rows of a report, their figures and their trace."""
