"""The server, and the demo that it can start with."""

import signal
from functools import partial
from pathlib import Path
from threading import Event, Thread

import click

from noggin.cli.common import DATABASE
from noggin.services.clock import system_clock
from noggin.services.safekeeping import keep_copying


@click.command()
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
    app = create_app(config)
    store = app.extensions["noggin"].store
    server = listen(app, host, port)
    # However it is stopped, what was under way is finished and the database is one whole file.
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    stop = Event()
    say = partial(click.echo, err=True)
    copier = Thread(target=keep_copying, args=(store, system_clock, stop, say), daemon=True)
    copier.start()
    click.echo(f"Noggin is at http://{host}:{port}/ (stop it with Ctrl-C)")
    try:
        server.run()
    finally:
        stop.set()
        copier.join()
        store.close()


@click.command()
@DATABASE
@click.option("--reset", is_flag=True, help="Copy the database aside and start the demo over.")
def demo(database: Path, reset: bool) -> None:
    """Load the demo into the database, once; what you changed since is kept."""
    from noggin.services.demo import load_demo_once, start_demo_over
    from noggin.services.opening import open_store

    store, clock = open_store(database), system_clock
    if reset:
        aside = database.with_name(f"{database.stem}-{clock():%Y%m%d-%H%M%S}{database.suffix}")
        start_demo_over(store, clock, aside)
        click.echo(f"The demo is as new. What was there before is in {aside}")
    elif load_demo_once(store, clock):
        click.echo("The demo is loaded.")
    else:
        click.echo("The demo was loaded before; your changes are kept.")


COMMANDS = (serve, demo)
