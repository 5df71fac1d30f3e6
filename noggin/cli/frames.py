"""Frames in from files, and the log out."""

import json
import sys
from collections.abc import Iterator
from datetime import date, datetime
from pathlib import Path
from typing import Any

import click

from noggin.cli.common import DATABASE
from noggin.cli.safekeeping import opened
from noggin.services.frames import log
from noggin.services.frames.frame_import import ImportedFrame, batch_of, import_folder
from noggin.services.frames.frame_tags import VERDICTS
from noggin.services.frames.log import Wanted
from noggin.services.whole.opening import Store, open_store
from noggin.services.words import wording


@click.command()
@click.argument("folder", type=click.Path(exists=True, path_type=Path))
@click.option("--json", "as_json", is_flag=True, help="One JSON object a line instead of words.")
@click.option(
    "--zone",
    default="UTC",
    show_default=True,
    help="Zone of the camera's clock, where a file does not say.",
)
@click.option("--clock-ahead", type=float, default=0.0, help="Seconds that the camera's clock is ahead.")
@click.option("--place", is_flag=True, help="Keep where each frame was taken.")
@DATABASE
def frames(folder: Path, as_json: bool, zone: str, clock_ahead: float, place: bool, database: Path) -> None:
    """Take the frames in FOLDER (or one file) into the log: settings, tones of face, background and sky.
    Files are only read; none is taken in twice, so that a run that was stopped goes on where it was."""
    batch = batch_of(zone, clock_ahead, keep_place=place)
    store = open_store(database)
    counts = {"new": 0, "known": 0, "skipped": 0}
    try:
        for found in import_folder(store, folder, batch):
            counts[found.state] += 1
            click.echo(json.dumps(_as_json(found), ensure_ascii=False) if as_json else _in_words(found))
    finally:
        store.close()
    if not as_json:
        click.echo(f"{counts['new']} new, {counts['known']} known already, {counts['skipped']} skipped")


def _as_json(found: ImportedFrame) -> dict[str, Any]:
    entry = found.entry
    line: dict[str, Any] = {"file": found.name, "sha256": found.sha256, "new": found.state == "new"}
    if found.state == "skipped":
        line["skipped"] = found.why
    if entry:
        line |= {
            "taken": entry.taken,
            "setup": entry.setup,
            "settings": entry.exif,
            "patches": {
                zone: {
                    "rect": entry.patches.get(zone),
                    "level": level.value,
                    "uncertainty": level.uncertainty,
                    "by": level.by,
                }
                for zone, level in entry.levels.items()
            },
        }
    return line


def _in_words(found: ImportedFrame) -> str:
    entry = found.entry
    if entry is None or found.state == "known":
        return f"{found.name}: {'skipped, ' if found.state == 'skipped' else ''}{found.why}"
    exif = entry.exif
    settings = [wording.shutter_time(exif["shutter_s"]) if "shutter_s" in exif else ""]
    settings.append(f"f/{exif['aperture']:g}" if "aperture" in exif else "")
    settings.append(f"ISO {exif['iso']:g}" if "iso" in exif else "")
    settings.append("flash" if entry.flash else "no flash")
    levels = ", ".join(
        f"{_zone(zone)} {wording.signed(level.value)} ± {wording.plain(level.uncertainty)}"
        for zone, level in entry.levels.items()
    )
    parts = [
        " ".join(part for part in settings if part),
        levels or "no zone found",
        entry.setup or "no set-up",
    ]
    return f"{found.name}: {datetime.fromisoformat(entry.taken):%Y-%m-%d %H:%M}, {'; '.join(parts)}"


@click.command(name="log")
@click.option("--json", "as_json", is_flag=True, help="The log as an open document.")
@click.option("--csv", "as_csv", is_flag=True, help="The log as a table.")
@click.option("--setup", default="", help="Only frames of the set-up of this name.")
@click.option("--light", default="", help="Only frames that this light was on in.")
@click.option("--since", type=click.DateTime(["%Y-%m-%d"]), help="Only frames from this day on.")
@click.option("--find", default="", help="Only frames whose words hold all of these.")
@DATABASE
def log_command(
    as_json: bool, as_csv: bool, setup: str, light: str, since: datetime | None, find: str, database: Path
) -> None:
    """Print the log, newest first."""
    wanted = log.wanted_of({"setup": setup, "light": light, "find": find})
    day: date | None = since.date() if since else None
    with opened(database) as store:
        if as_json:
            for piece in log.log_json(store, wanted, day):
                sys.stdout.write(piece)
        elif as_csv:
            sys.stdout.write(log.log_csv(store, wanted, day))
        else:
            for line in _lines(store, wanted, day):
                click.echo(line)


def _lines(store: Store, wanted: Wanted, since: date | None) -> Iterator[str]:
    for frame in log.since(store, wanted, since):
        entry = frame.entry
        levels = ", ".join(
            f"{_zone(zone)} {wording.signed(level.value)}" for zone, level in entry.levels.items()
        )
        said = [entry.setup or "no set-up", entry.way or "", levels, VERDICTS.get(entry.verdict or "", "")]
        yield f"{frame.taken:%Y-%m-%d %H:%M}  {'; '.join(part for part in said if part)}"


def _zone(zone: str) -> str:
    return "face" if zone == "subject" else zone


COMMANDS = (frames, log_command)
