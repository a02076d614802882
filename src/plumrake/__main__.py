"""``python -m plumrake``."""

from plumrake.cli.main import main

main()
