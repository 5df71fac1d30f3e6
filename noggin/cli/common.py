"""What the commands have in common: the database they are for, and how refusals are told."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import click

from noggin.services.errors import BadDocument, NogginError

DATABASE = click.option(
    "--database",
    type=click.Path(dir_okay=False, path_type=Path),
    default=Path("var/noggin.sqlite3"),
    show_default=True,
    help="SQLite file; made if it does not exist.",
)


class Spoken(click.Group):
    """Tells what Noggin refuses in one line instead of a trace."""

    def invoke(self, ctx: click.Context) -> Any:
        """Run the command; a refusal ends it with status 1."""
        try:
            return super().invoke(ctx)
        except (NogginError, OSError) as refusal:
            raise click.ClickException(in_words(refusal)) from None


def in_words(error: Exception) -> str:
    """An error in one line; the system's own name the file that they are about."""
    if isinstance(error, OSError) and error.strerror:
        about = f"{error.filename}: " if error.filename else ""
        return f"{about}{error.strerror}"
    return str(error)


@contextmanager
def faults_told(where: str = "") -> Iterator[None]:
    """A document that is refused: every fault on a line, after `where` it was found, and status 2."""
    try:
        yield
    except BadDocument as bad:
        for problem in bad.problems:
            click.echo(f"{where}: {problem}" if where else str(problem), err=True)
        sys.exit(2)
