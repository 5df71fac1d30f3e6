"""`python -m noggin.cli`."""

from noggin.cli import main

if __name__ == "__main__":
    main()
