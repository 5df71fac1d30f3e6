"""Documents in, tables or documents out."""

import datetime
import sys
import textwrap
from collections.abc import Sequence
from typing import Any, BinaryIO
from zoneinfo import ZoneInfo

import click
from tabulate import tabulate

from noggin.cli.common import faults_told
from noggin.services.clock import system_clock
from noggin.services.errors import Refused
from noggin.services.setups.setups import Way
from noggin.services.whole.files import (
    Daylight,
    PlannedFile,
    PopsAnswer,
    Remedy,
    ShootFile,
    light_of,
    plan_file,
    pops_file,
    read_bytes,
    shoot_file,
)
from noggin.services.words import (
    FAULTS_BY_KEY,
    GROUNDS,
    RULE,
    SKIES,
    YEARS,
    first_lack,
    is_zone,
    lacks_in_words,
    only_just,
    way_table,
    wording,
)

COLUMN = 22
"""Characters in a column of the table; longer texts are folded."""


@click.command()
@click.argument("file", type=click.File("rb"))
@click.option("--json", "as_json", is_flag=True, help="Print the plan document instead of a table.")
def plan(file: BinaryIO, as_json: bool) -> None:
    """Read a set-up document (- for standard input) and print its ways, best first."""
    with faults_told():
        found = plan_file(read_bytes(file))
    if as_json:
        click.echo(found.document.model_dump_json(indent=2).encode())
    else:
        click.echo(table(found).encode())


@click.command()
@click.argument("file", type=click.File("rb"))
def shoot(file: BinaryIO) -> None:
    """Read a shoot document (- for standard input) and print its day: every set-up with its way, how long
    it works, and what is wrong with the timetable."""
    with faults_told():
        found = shoot_file(read_bytes(file), system_clock)
    click.echo(day_table(found).encode())


@click.command()
@click.argument("file", type=click.File("rb"))
@click.option("--lines", is_flag=True, help="One document a line in, one answer a line out.")
@click.option("--json", "as_json", is_flag=True, help="Print the answer document instead of sentences.")
def pops(file: BinaryIO, lines: bool, as_json: bool) -> None:
    """Read a picture with its frames (- for standard input) and print what they say: how near it is, what
    went wrong, and the one thing to change next."""
    if not lines:
        with faults_told():
            found = pops_file(read_bytes(file))
        click.echo((found.model_dump_json(indent=2) if as_json else pops_words(found)).encode())
        return
    for number, line in enumerate(file, start=1):
        if line.strip():
            with faults_told(f"line {number}"):
                found = pops_file(line)
            click.echo(found.model_dump_json().encode())


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
            self.fail(f"{value!r} is not a date. Try 2027-06-19", param, ctx)
        if read.year not in YEARS:
            self.fail(f"{read.year} is outside {YEARS[0]} … {YEARS[-1]}", param, ctx)
        return read


class AZone(click.ParamType[ZoneInfo]):
    """A time zone by its name in the system's list."""

    name = "zone"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> ZoneInfo:
        """The zone, or a usage error."""
        if not is_zone(value):
            self.fail(f"{value!r} is not a time zone. Try Europe/Madrid", param, ctx)
        return ZoneInfo(value)


@click.command()
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
        document, rows = light_of((lat, lon, sky, ground, facing), date, tz, every)
    except Refused as refusal:
        click.echo(str(refusal), err=True)
        sys.exit(2)
    if as_json:
        click.echo(document.model_dump_json(indent=2).encode())
    else:
        click.echo(light_table(rows).encode())


COMMANDS = (plan, pops, shoot, light)


def pops_words(found: PopsAnswer) -> str:
    """What frames say, in sentences and a small table: where each zone lands as it was dialled, and by how
    much daylight and gear are off what was believed."""
    parts = [found.why]
    if found.next is not None:
        of = f" of {found.next.light}" if found.next.light else ""
        lands = wording.listed(
            [f"{zone} at {wording.signed(level)}" for zone, level in found.next.expected.items()]
        )
        parts.append(f"Next: set {found.next.control}{of} to {found.next.to}. Then {lands}.")
    parts += [
        f"{FAULTS_BY_KEY[fault.fault].label.capitalize()}? {wording.percent(fault.probability)} likely."
        f" {fault.check}"
        for fault in found.faults
    ]
    rows = [
        (name, f"{wording.signed(known.value)} ± {wording.plain(known.uncertainty)}")
        for name, known in found.levels.items()
    ]
    parts += ["", tabulate(rows, headers=["as dialled", "level, stops"], disable_numparse=True)]
    rows = [
        (name, f"{wording.signed(known.value)} ± {wording.plain(known.uncertainty)}")
        for name, known in found.offsets.items()
    ]
    parts += ["", tabulate(rows, headers=["off by", "stops"], disable_numparse=True)]
    return "\n".join(parts)


def table(found: PlannedFile) -> str:
    """A plan as text: a column for each way, then the recommendation, what else there is to know about the
    way it recommends, and what would help the others."""
    ways, chosen = found.plan.ways, found.plan.chosen
    heads = [f"{way.label}{' *' if way is chosen else ''}" for way in ways]
    rows = [[row.label, *(_wrapped(row.text(way)) for way in ways)] for row in way_table.ROWS]
    rows.append(["in the way", *(_wrapped(_in_the_way(way)) or wording.NONE for way in ways)])
    grid = tabulate(rows, headers=["", *heads], disable_numparse=True)
    parts = [found.plan.setup.name, "", grid, "", found.advice, found.lesson]
    if chosen:
        parts += ["", f"Details, {chosen.label}:"]
        parts += [f"- {label}: {answer}" for label, answer in found.details(chosen)]
        cautions = found.cautions(chosen)
        parts += (
            ["", f"Watch out, {chosen.label}:", *(f"- {line}" for line in cautions)] if cautions else []
        )
    helping = found.remedies
    for way in ways:
        if helping[way.key]:
            parts += ["", f"What would help {way.label}:"]
            parts += [f"- {_remedy(remedy)}" for remedy in helping[way.key]]
    parts += ["", RULE]
    parts += ["Levels and reserve in stops. Noggin estimates; local codes and licensed practice decide."]
    return "\n".join(parts)


def _remedy(remedy: Remedy) -> str:
    enough = "" if remedy.suffices else ", not enough on its own"
    return f"{remedy.label}: {remedy.by} ({wording.signed_stops(remedy.gain)}{enough})"


def light_table(rows: Sequence[Daylight]) -> str:
    """A day's light as text."""
    heads = ["time", "sun height", "azimuth", "sunlit EV", "shaded EV", "sky EV", "±"]
    plain = wording.plain
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


def day_table(found: ShootFile) -> str:
    """A shoot as text: its sun, a row for each set-up by the clock, and what is wrong."""
    rows = []
    for placed in found.slots:
        slot, way = placed.slot, placed.way
        texts = [
            f"{slot.start:%H:%M}–{slot.end:%H:%M}",
            slot.setup.name,
            placed.side or wording.NONE,
            _method(way),
            f"{way_table.camera_text(way)} ISO {way.settings.iso.label}",
            way_table.filter_text(way),
            way_table.reserve_text(way),
            placed.span.words if placed.span else wording.NONE,
        ]
        rows.append([_wrapped(text) for text in texts])
    heads = ["", "set-up", "sun", "method", "dial", "filter", "reserve", "works"]
    parts = [f"{found.document.name}, {found.document.date}", found.sun.words, ""]
    parts.append(tabulate(rows, headers=heads, disable_numparse=True))
    if found.checks:
        parts += ["", "Watch out:", *(f"- {check.words}" for check in found.checks)]
    parts += ["", "Forecast from sun and sky; a reading on the spot always wins."]
    return "\n".join(parts)


def _in_the_way(way: Way) -> str:
    """Everything a method lacks, the move that would be enough first."""
    return "; ".join([*([first_lack(way)] if way.mend else []), *lacks_in_words(way)])


def _method(way: Way) -> str:
    """The method of a set-up on the day, with its verdict where it does not hold."""
    if way.verdict == "just":
        return f"{way.label}, {only_just(way)}"
    if way.mend:
        return f"{way.label}, {first_lack(way)}"
    return way.label if way.feasible else f"none works; closest {way.label}: {first_lack(way)}"


def _wrapped(text: str) -> str:
    return "\n".join(textwrap.wrap(text, COLUMN))
