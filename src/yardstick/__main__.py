"""`python -m yardstick`."""

from yardstick.cli import main

main()
