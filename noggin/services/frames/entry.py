"""One frame of the log, built and judged here, whether it came by the page of the spot or by a file."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from datetime import datetime

from noggin.core.daylight.sun import sun_at
from noggin.core.planning.way import Way
from noggin.core.pops.frame import TRUST
from noggin.core.pops.judging import NEAR
from noggin.core.pops.target import meant_subject
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.documents.log import FrameEntry, SeenLevel, read_entry, written_entry
from noggin.services.clock import Clock

JUDGED = ("background", "subject")
"""Zones that a picture is judged by."""


@dataclass(frozen=True)
class PictureOfFrame:
    """The picture that a frame is of: a set-up as it was then and the way it is taken, what the log calls
    it, the shoot that it is part of, what is before each light by its index (as far as that is known),
    what the take taught, whether all of it is a rehearsal, and which look of the take it is."""

    name: str
    setup: SetUp
    way: Way
    shoot: str | None = None
    modifiers: Mapping[int, str] = field(default_factory=dict)
    lesson: str = ""
    is_simulated: bool = False
    look: str = ""

    @property
    def needs_flash(self) -> bool:
        """Whether the way fires any light."""
        return any(firing.down is not None for firing in self.way.lighting.firings)


def taken_now(clock: Clock, setup: SetUp) -> str:
    """The present instant as a frame has it, by the clock of where the set-up is."""
    moment = setup.scene.moment
    now = clock().astimezone(moment.time.tzinfo) if moment else clock()
    return now.isoformat(timespec="milliseconds")


def completed(entry: FrameEntry, picture: PictureOfFrame) -> FrameEntry:
    """A frame with everything that its picture says of it: what was meant of its zones and what was
    planned, the lights that fired, the sun; and the levels that were seen where none were measured. Raises
    BadDocument."""
    setup = picture.setup
    planned, meant = _planned(picture.way), _meant(picture)
    fired = tuple(fired_in(entry, picture))
    known: dict[str, object] = {
        "shoot": picture.shoot,
        "setup": picture.name,
        "way": picture.way.key,
        "meant": meant,
        "planned": planned,
        "lights": [setup.lights[index].says for index in fired],
        "modifiers": [picture.modifiers[index] for index in fired if picture.modifiers.get(index)],
        "simulated": picture.is_simulated,
        "lesson": picture.lesson,
        "look": picture.look or None,
        "levels": entry.levels or _levels_seen(entry),
    }
    if setup.scene.moment is not None:
        place = setup.scene.moment.place
        sun = sun_at(place.lat, place.lon, datetime.fromisoformat(entry.taken))
        known["sun_deg"] = round(sun.height_deg, 1)
    return read_entry(written_entry(entry.model_copy(update=known)))


def _planned(way: Way) -> dict[str, Stops]:
    levels = way.lighting.levels
    zones = {
        "background": levels.background,
        "subject": levels.subject,
        "sky": levels.sky,
        "rim": levels.rim,
    }
    return {zone: round(level, 3) for zone, level in zones.items() if level is not None}


def _meant(picture: PictureOfFrame) -> dict[str, Stops]:
    subject = meant_subject(picture.setup, picture.way.lighting.levels.subject_ambient)
    return {"background": picture.setup.intent.background_level, "subject": round(subject, 3)}


def fired_in(entry: FrameEntry, picture: PictureOfFrame) -> Iterator[int]:
    """Lights that fired, by their index: those that were dialled; of a file, which knows of none, those of
    the way."""
    if not entry.flash:
        return
    dialled = entry.dialled.powers if entry.dialled else {}
    by_file_alone = entry.file is not None and not entry.seen
    for index, light in enumerate(picture.setup.lights):
        of_way = picture.way.lighting.firings[index].down is not None
        if light.says in dialled or (by_file_alone and not dialled and of_way):
            yield index


def _levels_seen(entry: FrameEntry) -> dict[str, SeenLevel]:
    return {
        seen.zone: SeenLevel(value=seen.level, uncertainty=TRUST[seen.by].uncertainty, by=seen.by)
        for seen in entry.seen
        if seen.zone is not None and seen.level is not None
    }


def verdict_of(
    entry: FrameEntry, came_out: Mapping[str, tuple[Stops, Stops]], *, needs_flash: bool
) -> str | None:
    """What came of a frame in which nothing went wrong, by where its zones came out, each with its ±.

    Right is within a third of a stop of what was meant, off is beyond a third by more than the ±; between
    them nobody can tell (None). A frame without the flash, where the way has one, is one of the daylight.
    """
    if not entry.flash and needs_flash:
        return "daylight"
    if not all(zone in came_out and zone in entry.meant for zone in JUDGED):
        return None
    off = {zone: abs(came_out[zone][0] - entry.meant[zone]) for zone in JUDGED}
    if all(by <= NEAR for by in off.values()):
        return "right"
    return "off" if any(by > NEAR + came_out[zone][1] for zone, by in off.items()) else None
