"""The command line: documents in, tables or documents out; and the server."""

import sys
import textwrap
from pathlib import Path
from typing import Any, BinaryIO

import click
from tabulate import tabulate

from noggin import __version__
from noggin.core.board import ROWS
from noggin.core.errors import NogginError
from noggin.core.plan import Plan
from noggin.core.ways import plan as plan_of
from noggin.core.wording import NONE
from noggin.documents.faults import BadDocument
from noggin.documents.plan import plan_document
from noggin.documents.reading import SIZE_MOST, read_object
from noggin.documents.setup import setup_of

COLUMN = 22
"""Characters in a column of the table; longer texts are folded."""

DATABASE = click.option(
    "--database",
    type=click.Path(dir_okay=False, path_type=Path),
    default=Path("var/noggin.sqlite3"),
    show_default=True,
    help="SQLite file; made when it is not there.",
)


class Spoken(click.Group):
    """Tells what Noggin refuses in one line instead of a trace."""

    def invoke(self, ctx: click.Context) -> Any:
        """Run the command; a refusal ends it with status 1."""
        try:
            return super().invoke(ctx)
        except NogginError as refusal:
            raise click.ClickException(str(refusal)) from None


@click.group(cls=Spoken)
@click.version_option(__version__)
def main() -> None:
    """Noggin balances off-camera flash with daylight and compares every way of doing it."""


@main.command()
@click.argument("file", type=click.File("rb"))
@click.option("--json", "as_json", is_flag=True, help="Print the plan document instead of a table.")
def plan(file: BinaryIO, as_json: bool) -> None:
    """Read a set-up document (- for standard input) and print its ways, best first."""
    try:
        found = read_object(file.read(SIZE_MOST + 1))
        worked_out = plan_of(setup_of(found))
    except BadDocument as bad:
        for fault in bad.faults:
            click.echo(str(fault), err=True)
        sys.exit(2)
    if as_json:
        document = plan_document(worked_out, found.get("notes"))
        click.echo(document.model_dump_json(indent=2).encode())
    else:
        click.echo(table(worked_out).encode())


@main.command()
@DATABASE
@click.option("--host", default="127.0.0.1", show_default=True)
@click.option("--port", type=click.IntRange(1, 65535), default=8750, show_default=True)
def serve(database: Path, host: str, port: int) -> None:
    """Serve the application to a browser on this machine."""
    # Imported here: a plan on the command line needs neither pages nor a database.
    from noggin.web import create_app
    from noggin.web.server import listen

    config: dict[str, object] = {"DATABASE": database}
    if host not in ("127.0.0.1", "localhost", "::1"):
        config["TRUSTED_HOSTS"] = None  # asked for by name: whoever can reach it may
    server = listen(create_app(config), host, port)
    click.echo(f"Noggin is at http://{host}:{port}/ (stop it with Ctrl-C)")
    server.run()


@main.command()
@DATABASE
@click.option("--reset", is_flag=True, help="Copy the database aside and start the demo over.")
def demo(database: Path, reset: bool) -> None:
    """Put the demo's set-ups into the database, once; what was changed since is kept."""
    from noggin import services
    from noggin.store.setups import Store

    store, clock = Store.on_file(database), services.system_clock
    if reset:
        aside = database.with_name(f"{database.stem}-{clock():%Y%m%d-%H%M%S}{database.suffix}")
        services.start_demo_over(store, clock, aside)
        click.echo(f"The demo is as new. What was there before is kept in {aside}")
    elif services.load_demo_once(store, clock):
        click.echo("The demo's set-ups are loaded.")
    else:
        click.echo("The demo was loaded before; your changes are kept.")


def table(worked_out: Plan) -> str:
    """A plan as text: a column for each way, the board's rows, then what the advice says."""
    ways = worked_out.ways
    chosen = worked_out.chosen
    heads = [f"{way.label}{' *' if way is chosen else ''}" for way in ways]
    rows = [[row.label, *(_wrapped(row.text(way)) for way in ways)] for row in ROWS]
    rows.append(["lacks", *(_wrapped("; ".join(way.lacks)) or NONE for way in ways)])
    grid = tabulate(rows, headers=["", *heads], disable_numparse=True)
    parts = [worked_out.setup.name, "", grid, "", worked_out.advice, worked_out.lesson]
    if chosen and chosen.cautions:
        parts += ["", f"Mind, with {chosen.label}:", *(f"- {line}" for line in chosen.cautions)]
    parts += ["", "Levels and reserve in stops. Noggin estimates; local codes and practice decide."]
    return "\n".join(parts)


def _wrapped(text: str) -> str:
    return "\n".join(textwrap.wrap(text, COLUMN))


if __name__ == "__main__":
    main()
