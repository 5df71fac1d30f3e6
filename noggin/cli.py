"""The command line: documents in, tables or documents out; and the server."""

import datetime
import sys
import textwrap
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any, BinaryIO
from zoneinfo import ZoneInfo

import click
from tabulate import tabulate

from noggin import __version__
from noggin.core.board import ROWS, camera_text, filter_text, reserve_text
from noggin.core.course import best_span, planned
from noggin.core.day import light_span, sun_day, sun_side
from noggin.core.daylight import Daylight, Place, day_of_light
from noggin.core.errors import NogginError, Refused
from noggin.core.particulars import particulars
from noggin.core.plan import Plan
from noggin.core.remedies import Remedy, remedies
from noggin.core.tables import GROUNDS, SKIES
from noggin.core.timetable import checks
from noggin.core.ways import plan as plan_of
from noggin.core.weighing import RULE
from noggin.core.wording import NONE, plain, signed
from noggin.documents.daylight import light_of_day
from noggin.documents.faults import BadDocument
from noggin.documents.fields import YEARS, is_zone
from noggin.documents.plan import plan_document
from noggin.documents.reading import SIZE_MOST, read_object
from noggin.documents.setup import core_setup, setup_of
from noggin.documents.shoot import ShootDocument, read_shoot
from noggin.services.clock import system_clock

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
    helping = remedies(worked_out)
    if as_json:
        document = plan_document(worked_out, helping, found.get("notes"))
        click.echo(document.model_dump_json(indent=2).encode())
    else:
        click.echo(table(worked_out, helping).encode())


@main.command()
@click.argument("file", type=click.File("rb"))
def shoot(file: BinaryIO) -> None:
    """Read a shoot document (- for standard input) and print its day: every set-up with its way, how long
    that holds, and what is wrong with the timetable."""
    try:
        document = read_shoot(read_object(file.read(SIZE_MOST + 1)))
    except BadDocument as bad:
        for fault in bad.faults:
            click.echo(str(fault), err=True)
        sys.exit(2)
    click.echo(day_table(document).encode())


class ADate(click.ParamType[datetime.date]):
    """A date as 2027-06-19, in a year for which the sun's place is worked out."""

    name = "date"

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> datetime.date:
        """The date, or a usage error."""
        try:
            read = datetime.date.fromisoformat(value)
        except ValueError:
            self.fail(f"{value!r} is not a date like 2027-06-19", param, ctx)
        if read.year not in YEARS:
            self.fail(f"{read.year} is outside {YEARS[0]} … {YEARS[-1]}", param, ctx)
        return read


class AZone(click.ParamType[ZoneInfo]):
    """A time zone by its name in the system's list."""

    name = "zone"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> ZoneInfo:
        """The zone, or a usage error."""
        if not is_zone(value):
            self.fail(f"{value!r} is not a time zone like Europe/Madrid", param, ctx)
        return ZoneInfo(value)


@main.command()
@click.option("--lat", type=float, required=True, help="Degrees, north positive.")
@click.option("--lon", type=float, required=True, help="Degrees, east positive.")
@click.option("--date", type=ADate(), required=True, help="The local day, as 2027-06-19.")
@click.option("--tz", type=AZone(), required=True, help="Time zone, as Europe/Madrid.")
@click.option("--sky", type=click.Choice(list(SKIES)), default="clear", show_default=True)
@click.option("--ground", type=click.Choice(list(GROUNDS)), default="grass", show_default=True)
@click.option("--facing", type=float, help="Azimuth the camera looks toward, degrees from north.")
@click.option("--every", type=int, default=15, show_default=True, help="Minutes from row to row.")
@click.option("--json", "as_json", is_flag=True, help="Print the light document instead of a table.")
def light(
    lat: float,
    lon: float,
    date: datetime.date,
    tz: ZoneInfo,
    sky: str,
    ground: str,
    facing: float | None,
    every: int,
    as_json: bool,
) -> None:
    """Print a day's daylight: the sun, and the EV of sunlit side, shaded side and sky."""
    try:
        place = Place(lat, lon, sky, ground, facing)
        rows = day_of_light(place, date, tz, every)
    except Refused as refusal:
        click.echo(str(refusal), err=True)
        sys.exit(2)
    if as_json:
        document = light_of_day(place, date.isoformat(), tz.key, rows)
        click.echo(document.model_dump_json(indent=2).encode())
    else:
        click.echo(light_table(rows).encode())


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
    from noggin.services.demo import load_demo_once, start_demo_over
    from noggin.store.kept import Store

    store, clock = Store.on_file(database), system_clock
    if reset:
        aside = database.with_name(f"{database.stem}-{clock():%Y%m%d-%H%M%S}{database.suffix}")
        start_demo_over(store, clock, aside)
        click.echo(f"The demo is as new. What was there before is kept in {aside}")
    elif load_demo_once(store, clock):
        click.echo("The demo's set-ups are loaded.")
    else:
        click.echo("The demo was loaded before; your changes are kept.")


def table(worked_out: Plan, helping: Mapping[str, Sequence[Remedy]]) -> str:
    """A plan as text: a column for each way, the board's rows, then what the advice says, what else is
    to be known about the way it advises, and what would help the others."""
    ways = worked_out.ways
    chosen = worked_out.chosen
    heads = [f"{way.label}{' *' if way is chosen else ''}" for way in ways]
    rows = [[row.label, *(_wrapped(row.text(way)) for way in ways)] for row in ROWS]
    rows.append(["lacks", *(_wrapped("; ".join(way.lacks)) or NONE for way in ways)])
    grid = tabulate(rows, headers=["", *heads], disable_numparse=True)
    parts = [worked_out.setup.name, "", grid, "", worked_out.advice, worked_out.lesson]
    if chosen:
        parts += ["", f"Besides, with {chosen.label}:"]
        parts += [f"- {label}: {answer}" for label, answer in particulars(worked_out.setup, chosen)]
    if chosen and chosen.cautions:
        parts += ["", f"Mind, with {chosen.label}:", *(f"- {line}" for line in chosen.cautions)]
    for way in ways:
        if helping[way.way]:
            parts += ["", f"What would help {way.label}:"]
            parts += [f"- {_remedy(one)}" for one in helping[way.way]]
    parts += ["", RULE]
    parts += ["Levels and reserve in stops. Noggin estimates; local codes and practice decide."]
    return "\n".join(parts)


def _remedy(one: Remedy) -> str:
    enough = "" if one.suffices else ", not enough alone"
    return f"{one.label}: {one.to} ({signed(one.gain)}{enough})"


def light_table(rows: Sequence[Daylight]) -> str:
    """A day's light as text."""
    heads = ["time", "sun height", "azimuth", "sunlit EV", "shaded EV", "sky EV", "±"]
    cells = [
        [
            f"{row.time:%H:%M %z}",
            f"{plain(row.sun.height_deg)}°",
            f"{row.sun.azimuth_deg:.0f}°",
            plain(row.sunlit),
            plain(row.shaded),
            plain(row.sky),
            plain(row.uncertainty),
        ]
        for row in rows
    ]
    grid = tabulate(cells, headers=heads, disable_numparse=True, colalign=("left", *["right"] * 6))
    return f"{grid}\n\nEstimated, EV at ISO 100. A reading on the spot always wins."


def day_table(document: ShootDocument) -> str:
    """A shoot as text: its sun, a row for each set-up by the clock, and what is wrong."""
    place, zone = document.place, ZoneInfo(document.place.tz)
    where = (place.lat, place.lon, document.day(), zone)
    first, last = light_span(*where)
    now = system_clock()
    slots = [document.slot(one, core_setup(one.setup), now) for one in document.slots]
    slots.sort(key=lambda slot: slot.start)
    rows = []
    for slot in slots:
        way, facing = planned(slot), slot.stand.place.facing_deg
        span = best_span(slot, way.way, 0.0, min(first, slot.start), max(last, slot.end))
        sun = slot.stand.outlook(slot.start).sun
        texts = [
            f"{slot.start:%H:%M}–{slot.end:%H:%M}",
            slot.setup.name,
            NONE if facing is None else sun_side(sun, facing),
            way.label if way.feasible else f"none; nearest {way.label}: {way.lacks[0]}",
            f"{camera_text(way)} ISO {way.settings.iso.label}",
            filter_text(way),
            reserve_text(way),
            span.words if span else NONE,
        ]
        rows.append([_wrapped(text) for text in texts])
    heads = ["", "set-up", "sun", "way", "dial", "filter", "reserve", "holds"]
    parts = [f"{document.name}, {document.date}", sun_day(*where, place.elevation_m).words, ""]
    parts.append(tabulate(rows, headers=heads, disable_numparse=True))
    wrong = checks(slots, {})
    if wrong:
        parts += ["", "Mind:", *(f"- {check.words}" for check in wrong)]
    parts += ["", "Foreseen from sun and sky; a reading on the spot always wins."]
    return "\n".join(parts)


def _wrapped(text: str) -> str:
    return "\n".join(textwrap.wrap(text, COLUMN))


if __name__ == "__main__":
    main()
