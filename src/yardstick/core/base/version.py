"""The version of the program, as results and answers carry it."""

VERSION = "0.1.0"
