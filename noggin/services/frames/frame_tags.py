"""What a kept frame is found by: the tags that filter the log, and the words that are searched."""

from collections.abc import Iterator

from noggin.core.planning.ways import WAYS
from noggin.documents.log import FrameEntry, written_entry
from noggin.store.frames import KeptFrame, KeptTake
from noggin.store.store import Store

SUN_HEIGHTS = (
    (0.0, "under the horizon"),
    (10.0, "low, up to 10°"),
    (30.0, "10° to 30°"),
    (91.0, "high, over 30°"),
)
"""What the sun's height is called, up to so many degrees."""

VERDICTS = {
    "right": "right",
    "off": "off",
    "daylight": "daylight alone",
    "fault": "something went wrong",
}
"""What came of a frame, as people say it."""


def sun_words(height_deg: float) -> str:
    """What a height of the sun is called.

    >>> sun_words(-3.0), sun_words(4.0), sun_words(62.0)
    ('under the horizon', 'low, up to 10°', 'high, over 30°')
    """
    return next(words for most, words in SUN_HEIGHTS if height_deg < most)


def put_frame(store: Store, kept: KeptFrame, entry: FrameEntry, take: KeptTake | None) -> None:
    """Keep a frame's entry anew, and what it is found by."""
    tags = tuple(tags_of(entry, take))
    store.frames.write(kept.id, written_entry(entry), tags, words_of(entry), take.id if take else None)


def tags_of(entry: FrameEntry, take: KeptTake | None) -> Iterator[tuple[str, str]]:
    """Everything that filters it out of the log, by kind and value."""
    yield "setup", entry.setup or "none"
    if take is not None:
        yield "setup_id", str(take.setup_id)
    if entry.shoot:
        yield "shoot", entry.shoot
    if entry.way:
        yield "way", entry.way
    if entry.verdict:
        yield "verdict", entry.verdict
    if entry.sun_deg is not None:
        yield "sun", sun_words(entry.sun_deg)
    for light in entry.lights:
        yield "light", light
    for modifier in entry.modifiers:
        yield "modifier", modifier
    if entry.place is not None:
        yield "place", f"{entry.place.lat:.2f}, {entry.place.lon:.2f}"


def words_of(entry: FrameEntry) -> str:
    """Everything that can be searched for."""
    kind = WAYS.get(entry.way or "")
    found = [
        entry.setup,
        entry.shoot,
        entry.file,
        kind.label if kind else None,
        *entry.lights,
        *entry.modifiers,
        VERDICTS.get(entry.verdict or ""),
        entry.note,
        entry.lesson,
        entry.taken[:10],
        "simulated" if entry.simulated else "",
    ]
    return " ".join(part for part in found if part)
