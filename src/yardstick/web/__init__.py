"""The HTTP interface: one thin router per station."""
