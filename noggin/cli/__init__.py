"""The command line: documents in, tables or documents out; the server; and keeping everything safe."""

import click

from noggin import __version__
from noggin.cli import documents, frames, pocket, proof, safekeeping, server
from noggin.cli.common import Spoken


@click.group(cls=Spoken)
@click.version_option(__version__)
def main() -> None:
    """Noggin balances off-camera flash with daylight and compares every method of doing it."""


for area in (documents, frames, proof, pocket, server, safekeeping):
    for command in area.COMMANDS:
        main.add_command(command)
