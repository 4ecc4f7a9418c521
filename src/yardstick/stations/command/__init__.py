"""What the command does without a workspace."""
