"""The pocket edition: a site that a phone runs by itself."""

from pathlib import Path

import click

from noggin.cli.common import DATABASE
from noggin.cli.safekeeping import opened
from noggin.services.clock import system_clock
from noggin.services.whole.pocket_site import for_a_phone, write_pocket


@click.command()
@click.argument("target", type=click.Path(path_type=Path))
@click.option("--with-everything", is_flag=True, help="Bring along what the database keeps.")
@DATABASE
def pocket(target: Path, with_everything: bool, database: Path) -> None:
    """Write Noggin for a phone, as a static site, to a new folder TARGET, or to a ZIP where it ends in
    .zip. Any host with TLS can serve it; from its second opening on it needs no network."""
    if with_everything:
        with opened(database) as store:
            given = list(for_a_phone(store, system_clock))
    else:
        given = []
    size = write_pocket(target, given)
    click.echo(
        f"{target}: {size / 1e6:.0f} MB. Put it where it is served by https, and open it on the phone."
    )


COMMANDS = (pocket,)
