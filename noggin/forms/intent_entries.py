"""What is meant, as it is typed on the Bench."""

from noggin.core.physics import appearance, dials
from noggin.core.physics.appearance import NAMED_LEVELS
from noggin.core.physics.flash import FLASH_K
from noggin.core.setup.intent import PREFERENCES, SCHOOLS
from noggin.core.typed import parse_quantities
from noggin.core.wording import number, signed
from noggin.documents.written import SetUpWritten
from noggin.forms.entry import (
    Document,
    Entry,
    aperture_step,
    dialled,
    kelvin_step,
    third_step,
)

DEFAULT_SHARE = 0.2
"""Flash share to start from outdoors. Common practice, no source."""


def _mood(document: Document) -> str:
    level = document["intent"]["background_level"]
    return next((name for name, named in NAMED_LEVELS.items() if abs(named - level) < 0.05), "")


def _level_of_mood(name: str) -> float:
    return NAMED_LEVELS[name]


def _put_school(document: SetUpWritten, school: str) -> None:
    flash = document["intent"]["flash"]
    flash["school"] = school
    if school == "share" and flash.get("share") is None:
        flash["share"] = DEFAULT_SHARE


APERTURE_WISHES = {
    "this": "this aperture",
    "any": "anything that keeps the place readable",
}
"""What the wanted aperture is for."""

INTENT_ENTRIES = (
    Entry(
        "mood",
        "Mood",
        ("intent", "background_level"),
        _level_of_mood,
        str,
        choices={name: f"{name}, {signed(level)}" for name, level in NAMED_LEVELS.items()},
        gives=_mood,
    ),
    Entry(
        "background_level",
        "Background",
        ("intent", "background_level"),
        parse_quantities.read_stops,
        signed,
        "stops",
        third_step,
        hint=lambda setup: appearance.mood(setup.intent.background_level),
    ),
    Entry(
        "subject_level",
        "Faces",
        ("intent", "subject_level"),
        parse_quantities.read_stops,
        signed,
        "stops",
        third_step,
        hint=lambda setup: SCHOOLS[setup.intent.school],
    ),
    Entry(
        "school",
        "Flash",
        ("intent", "flash", "school"),
        str,
        str,
        choices=SCHOOLS,
        puts=_put_school,
    ),
    Entry(
        "share",
        "Flash share",
        ("intent", "flash", "share"),
        parse_quantities.read_percent,
        lambda value: number(100 * value, 1),
        "%",
        lambda _, value, by: min(0.95, max(0.05, round(20 * value + by) / 20)),
        blank="only used by share",
        start=lambda _: DEFAULT_SHARE,
    ),
    Entry(
        "flare",
        "Flare",
        ("intent", "flare"),
        str,
        str,
        choices={"": "avoid it", "flare": "wanted"},
        gives=lambda document: "flare" if document["intent"].get("flare") else "",
        puts=lambda document, wanted: document["intent"].update(flare=bool(wanted)),
    ),
    Entry(
        "white_balance",
        "White balance",
        ("intent", "white_balance_k"),
        parse_quantities.read_kelvin,
        number,
        "K",
        kelvin_step,
        blank="set for the key",
        start=lambda _: float(FLASH_K),
    ),
    Entry(
        "blur_wish",
        "Background blur, at least",
        ("intent", "blur_least_pct"),
        parse_quantities.read_percent_figure,
        lambda value: number(value, 1),
        "%",
        lambda _, value, by: max(0.0, round(2 * value + by) / 2),
        blank="no wish",
    ),
    Entry(
        "frames",
        "Shots from one charge",
        ("intent", "frames"),
        parse_quantities.read_count,
        lambda value: number(value, 0),
        "",
        lambda _, value, by: max(1, value + 10 * by),
        blank="not counted",
    ),
    Entry(
        "aperture",
        "Aperture",
        ("intent", "aperture"),
        parse_quantities.read_aperture,
        lambda value: f"f/{number(value, 2)}",
        "",
        aperture_step,
        hint=lambda setup: dialled(
            setup.wanted_aperture, dials.aperture_stops(setup.intent.aperture), "f/"
        ),
    ),
    Entry(
        "aperture_wish",
        "What matters",
        ("intent", "aperture_free"),
        str,
        str,
        choices=APERTURE_WISHES,
        gives=lambda document: "any" if document["intent"].get("aperture_free") else "this",
        puts=lambda document, wish: document["intent"].update(aperture_free=wish == "any"),
    ),
    Entry(
        "prefer",
        "Prefer",
        ("intent", "prefer"),
        str,
        str,
        choices=PREFERENCES,
    ),
)
"""Every one of them."""
