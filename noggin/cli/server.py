"""The server, who may reach it, and the demo that it can start with."""

import io
import signal
from functools import partial
from pathlib import Path
from threading import Event, Thread
from urllib.parse import urlsplit

import click
import segno
from flask import Flask, url_for

from noggin.cli.common import DATABASE
from noggin.services.clock import system_clock
from noggin.services.passphrase import PassPhrase
from noggin.services.whole.opening import claimed
from noggin.services.whole.safekeeping import keep_copying
from noggin.web.serving.reachable import in_url, is_loopback, own_addresses, own_names


@click.command()
@DATABASE
@click.option("--host", default="127.0.0.1", show_default=True, help="Address to answer at.")
@click.option("--port", type=click.IntRange(1, 65535), default=8750, show_default=True)
@click.option("--lan", is_flag=True, help="Answer to the whole network; asks for the pass-phrase.")
@click.option("--name", "names", multiple=True, help="A further name under which it may be asked for.")
@click.option("--proxy", is_flag=True, help="A proxy with TLS is before it, on this machine.")
def serve(database: Path, host: str, port: int, lan: bool, names: tuple[str, ...], proxy: bool) -> None:
    """Serve the application to a browser: on this machine, or to the network with --lan."""
    # Imported here: a plan on the command line needs neither pages nor a database.
    from noggin.web import create_app
    from noggin.web.serving.server import listen, usual_readers
    from noggin.web.shared.hosts import HERE_ALONE
    from noggin.web.shared.memory import keep_small

    if proxy and not names:
        raise click.UsageError("--proxy needs --name: the name under which the proxy is asked for.")
    host = "0.0.0.0" if lan else host  # noqa: S104 - asked for by name, and behind the gate
    config: dict[str, object] = {"DATABASE": database, "BEHIND_PROXY": proxy}
    config["REQUEST_LOG"] = database.with_name(f"{database.stem}.log")
    links = [f"http://{in_url(host)}:{port}"]
    if proxy or not is_loopback(host):
        PassPhrase(database).mark()  # there must be one
        links = reached_at(host, port, names, proxy)
        config["ADDRESSES"] = tuple(links)
    config["HOSTS"] = (*HERE_ALONE, in_url(host), *names, *hosts_of(links))
    keep_small()
    app = create_app(config)
    store = app.extensions["noggin"].store
    server = listen(app, host, port, usual_readers())
    # However it is stopped, what was under way is finished and the database is one whole file.
    signal.signal(signal.SIGTERM, signal.default_int_handler)
    stop = Event()
    copier = Thread(
        target=keep_copying, args=(store, system_clock, stop, partial(click.echo, err=True)), daemon=True
    )
    copier.start()
    with claimed(database) as other:
        if other is not None:
            click.echo(f"Process {other} serves {database} already. Both keep what is entered.", err=True)
        greet(app, links, gated="ADDRESSES" in config)
        try:
            server.run()
        finally:
            stop.set()
            copier.join()
            store.close()


def reached_at(host: str, port: int, names: tuple[str, ...], proxy: bool) -> list[str]:
    """The addresses under which a server on a network is asked for."""
    if proxy:
        return [f"https://{name}" for name in names]
    everywhere = host in ("0.0.0.0", "::")  # noqa: S104 - only compared
    hosts = [*names, *own_addresses(), *own_names()] if everywhere else [host, *names]
    return [f"http://{in_url(name)}:{port}" for name in dict.fromkeys(hosts)]


def hosts_of(links: list[str]) -> list[str]:
    """The hosts of some addresses."""
    return [urlsplit(link).netloc.rpartition(":")[0] or urlsplit(link).netloc for link in links]


def greet(app: Flask, links: list[str], *, gated: bool) -> None:
    """Say where Noggin is, who can reach it, and how a phone gets in."""
    for link in links:
        click.echo(f"Noggin is at {link}/ (stop it with Ctrl-C)" if not gated else f"Noggin is at {link}/")
    if not gated:
        return
    click.echo("Anybody in this network can reach it; the pass-phrase lets them in. Ctrl-C stops it.")
    if not links[0].startswith("https:"):
        click.echo("What is sent is not encrypted: use it in a network that you trust.")
    link = pairing_link(app, links[0])
    click.echo(f"Pair a phone for a day within a quarter of an hour: {link}")
    picture = io.StringIO()
    segno.make(link, micro=False).terminal(picture, compact=True)
    click.echo(picture.getvalue())


def pairing_link(app: Flask, address: str) -> str:
    """A link that pairs one phone."""
    with app.test_request_context(base_url=address):
        gate = app.extensions["noggin_gate"]
        return f"{address}{url_for('gate.pair_page', code=gate.code())}"


@click.command()
@DATABASE
def passphrase(database: Path) -> None:
    """Set the pass-phrase that opens Noggin on a network; whoever is signed in must sign in anew."""
    text = click.prompt("New pass-phrase", hide_input=True, confirmation_prompt="Once more")
    PassPhrase(database).set(text)
    click.echo("The pass-phrase is set.")


@click.command()
@DATABASE
@click.option("--reset", is_flag=True, help="Copy the database aside and start the demo over.")
def demo(database: Path, reset: bool) -> None:
    """Load the demo into the database, once; what you changed since is kept."""
    from noggin.services.whole.demo import load_demo_once, start_demo_over
    from noggin.services.whole.opening import open_store

    store, clock = open_store(database), system_clock
    if reset:
        aside = database.with_name(f"{database.stem}-{clock():%Y%m%d-%H%M%S}{database.suffix}")
        start_demo_over(store, clock, aside)
        click.echo(f"The demo is as new. What was there before is in {aside}")
    elif load_demo_once(store, clock):
        click.echo("The demo is loaded.")
    else:
        click.echo("The demo was loaded before; your changes are kept.")


COMMANDS = (serve, passphrase, demo)
