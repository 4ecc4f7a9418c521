"""Making and checking links: a wing of its own, that nothing else in the core imports."""
