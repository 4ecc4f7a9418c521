"""What is there once for all workspaces: opening them, packing one, checking the program."""
