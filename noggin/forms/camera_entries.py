"""The limits of the camera and its filters as they are typed on the Bench."""

from noggin.core.physics import dials
from noggin.core.setup.camera import SUPPORTS
from noggin.core.setup.setup import SetUp
from noggin.core.typed import parse_quantities
from noggin.core.wording import duration, number
from noggin.documents.written import FilterWritten, SetUpWritten
from noggin.forms.entry import (
    Entry,
    dialled,
    iso_step,
    read_dial_time,
    read_filters,
    show_dial_time,
    show_filters,
    time_step,
)


def _hand_words(setup: SetUp) -> str:
    return "" if setup.hand_stops is None else f"steady to {duration(2**-setup.hand_stops)}"


def _put_filters(document: SetUpWritten, bag: list[FilterWritten]) -> None:
    """The bag as typed; a filter that was there keeps its name and its exact strength."""
    before = list(document["filters"])
    kept = []
    for item in bag:
        same = next((known for known in before if show_filters([known]) == show_filters([item])), None)
        if same:
            before.remove(same)
        kept.append(same or item)
    document["filters"] = kept


CAMERA_ENTRIES = (
    Entry(
        "support",
        "Camera held",
        ("camera", "support"),
        str,
        str,
        choices=SUPPORTS,
        gives=lambda document: document["camera"].get("support", "hand"),
        hint=_hand_words,
    ),
    Entry(
        "sync",
        "Sync speed",
        ("camera", "sync_s"),
        read_dial_time,
        show_dial_time,
        "s",
        time_step,
        hint=lambda setup: dialled(setup.camera.sync, dials.shutter_stops(setup.camera.sync_s)),
    ),
    Entry(
        "fastest",
        "Fastest shutter time",
        ("camera", "fastest_s"),
        read_dial_time,
        show_dial_time,
        "s",
        time_step,
        hint=lambda setup: dialled(setup.camera.fastest, dials.shutter_stops(setup.camera.fastest_s)),
    ),
    Entry(
        "slowest",
        "Slowest shutter time",
        ("camera", "slowest_s"),
        read_dial_time,
        show_dial_time,
        "s",
        time_step,
        hint=lambda setup: dialled(setup.camera.slowest, dials.shutter_stops(setup.camera.slowest_s)),
    ),
    Entry(
        "iso_lowest",
        "Lowest ISO",
        ("camera", "iso_lowest"),
        parse_quantities.read_iso,
        number,
        "",
        iso_step,
        hint=lambda setup: dialled(setup.camera.iso_low, dials.iso_stops(setup.camera.iso_lowest)),
    ),
    Entry(
        "iso_highest",
        "Highest ISO",
        ("camera", "iso_highest"),
        parse_quantities.read_iso,
        number,
        "",
        iso_step,
    ),
    Entry(
        "filters",
        "ND filters",
        ("filters",),
        read_filters,
        show_filters,
        "stops",
        blank="no filter",
        empty=[],
        puts=_put_filters,
    ),
)
"""Every one of them."""
