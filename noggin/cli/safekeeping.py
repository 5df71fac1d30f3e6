"""Copies of the database, everything as open documents, and what to do with a file that is not right."""

import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import click

from noggin.cli.common import DATABASE, faults_told
from noggin.services.clock import system_clock
from noggin.services.whole import safekeeping
from noggin.services.whole.opening import Store, open_store

FILE = click.Path(path_type=Path)


@contextmanager
def opened(database: Path) -> Iterator[Store]:
    """The store on a database that is there, closed again."""
    safekeeping.must_be_there(database)
    store = open_store(database)
    try:
        yield store
    finally:
        store.close()


@click.command()
@click.argument("file", type=FILE, required=False)
@DATABASE
def backup(file: Path | None, database: Path) -> None:
    """Copy the database to a new FILE (by default named after the time), also while Noggin runs."""
    target = file or Path(f"{database.stem}-{system_clock():%Y%m%d-%H%M%S}{database.suffix}")
    with opened(database) as store:
        made = safekeeping.backup(store, target)
    click.echo(f"{made.path}: {made.size:,} bytes. Put it back with: noggin restore {made.path}")


@click.command()
@click.argument("file", type=FILE)
@DATABASE
def restore(file: Path, database: Path) -> None:
    """Check a backup FILE and put it in the place of the database; what was there is kept aside."""
    aside = safekeeping.restore(database, file, system_clock)
    kept = f" What was there before is in {aside}" if aside else ""
    click.echo(f"{database} is as it was in {file}.{kept}")


@click.command(name="export")
@click.argument("target", type=FILE)
@DATABASE
def export_all(target: Path, database: Path) -> None:
    """Write every set-up, the kit with its readings, bags and shoots as open documents to a new folder, or
    to a ZIP where TARGET ends in .zip."""
    with opened(database) as store:
        count = safekeeping.export(store, system_clock, target)
    click.echo(f"{count} documents are in {target}")


@click.command(name="import")
@click.argument("source", type=FILE)
@DATABASE
def import_all(source: Path, database: Path) -> None:
    """Take in a folder, a ZIP or one file of open documents: all of them or none, none of them twice."""
    store = open_store(database)
    try:
        with faults_told():
            brought = safekeeping.import_from(store, system_clock, source)
    finally:
        store.close()
    counts = (len(brought.new), len(brought.changed), len(brought.same))
    click.echo("{} new, {} changed, {} there already".format(*counts))


@click.command()
@DATABASE
def check(database: Path) -> None:
    """Look through the whole database, and say what is wrong with it."""
    problems = safekeeping.problems(database)
    for problem in problems:
        click.echo(problem, err=True)
    if problems:
        click.echo("‘noggin salvage FOLDER’ writes out what can still be read.", err=True)
        sys.exit(1)
    click.echo(f"{database} is whole.")


@click.command()
@click.argument("folder", type=FILE)
@DATABASE
def salvage(folder: Path, database: Path) -> None:
    """Write every document that can still be read of a damaged database to a new FOLDER; ‘noggin import’
    takes them in elsewhere."""
    found = safekeeping.salvage(database, folder, system_clock)
    click.echo(f"{found.documents} documents are in {folder}. Take them in with: noggin import {folder}")
    for path in found.unreadable:
        click.echo(f"{path} cannot be read as a document, and is as it was found.", err=True)


COMMANDS = (backup, restore, export_all, import_all, check, salvage)
