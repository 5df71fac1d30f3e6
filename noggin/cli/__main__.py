"""`python -m noggin.cli`."""

from noggin.cli import main

main()
