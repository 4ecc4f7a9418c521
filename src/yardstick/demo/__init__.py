"""The demo worlds that ship with the app."""
