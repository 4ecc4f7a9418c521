"""By which source a file is read: found, guessed, asked for, and its columns made ours."""
