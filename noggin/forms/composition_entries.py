"""The figures of the composition as they are typed on the Bench."""

from noggin.core.physics import dials, optics
from noggin.core.setup.setup import SetUp
from noggin.core.tables import (
    FRAMINGS,
    MOVEMENTS,
)
from noggin.core.typed import parse_quantities, parse_scene
from noggin.core.wording import metres, metres_span, number
from noggin.documents.written import SetUpWritten
from noggin.forms.choice_entries import frame_height, frame_to, put_subject
from noggin.forms.entry import (
    Document,
    Entry,
    dialled,
    distance,
    distance_step,
    focal_step,
    read_name,
)


def _framing(document: Document) -> str:
    height = frame_height(document)
    return next((key for key, (_, high) in FRAMINGS.items() if abs(high / height - 1) < 0.02), "")


def _put_framing(document: SetUpWritten, key: str) -> None:
    frame_to(document, FRAMINGS[key][1])


def _frame_words(setup: SetUp) -> str:
    distance, focal = setup.scene.subject_distance_m, setup.lens.focal_mm
    wide, high = (optics.frame_side(distance, focal, side) for side in setup.camera.sensor_mm)
    return (
        f"frame {metres(wide)} × {metres(high)}; lights are out of it from {metres(wide / 2)} to the side"
    )


def _group_depth(document: Document) -> float | None:
    faces = document["scene"].get("face_distances_m") or []
    return round(max(faces) - min(faces), 3) if len(faces) > 1 else None


def _put_group_depth(document: SetUpWritten, depth: float | None) -> None:
    """Two faces before and behind the point of focus, or none."""
    scene = document["scene"]
    distance = scene["subject_distance_m"]
    scene["face_distances_m"] = (
        [] if not depth else [round(distance - depth / 2, 3), round(distance + depth / 2, 3)]
    )


def _sharp_words(setup: SetUp) -> str:
    faces = setup.scene.faces_m
    return f"faces at {metres_span(min(faces), max(faces))}" if faces else ""


def _speed(text: str) -> float:
    return float(text)


COMPOSITION_ENTRIES = (
    Entry("name", "Name", ("name",), read_name, str),
    Entry(
        "framing",
        "Framing",
        ("scene", "subject_distance_m"),
        str,
        str,
        choices={key: name for key, (name, _) in FRAMINGS.items()},
        hint=_frame_words,
        gives=_framing,
        puts=_put_framing,
    ),
    Entry(
        "subject_distance",
        "Subject distance",
        ("scene", "subject_distance_m"),
        parse_quantities.read_distance,
        distance,
        "m",
        distance_step,
        puts=put_subject,
    ),
    Entry(
        "background_distance",
        "Background distance",
        ("scene", "background_distance_m"),
        parse_quantities.read_distance,
        distance,
        "m",
        distance_step,
    ),
    Entry(
        "group_depth",
        "Group, front to back",
        ("scene", "face_distances_m"),
        parse_quantities.read_distance,
        distance,
        "m",
        distance_step,
        blank="one row of faces",
        gives=_group_depth,
        puts=_put_group_depth,
        hint=_sharp_words,
    ),
    Entry(
        "movement",
        "Movement",
        ("scene", "subject_speed_m_s"),
        _speed,
        lambda value: number(value, 2),
        choices={number(speed, 2): f"{name}, {number(speed, 1)} m/s" for name, speed in MOVEMENTS.items()},
    ),
    Entry(
        "people",
        "Who is in it",
        ("scene", "people"),
        parse_scene.read_people,
        parse_scene.show_people,
        blank="not said: a white dress, a dark suit",
        empty=[],
        gives=lambda document: document["scene"].get("people") or [],
        puts=lambda document, people: document["scene"].update(people=people),
    ),
    Entry(
        "gust",
        "Wind, gusts of",
        ("scene", "gust_m_s"),
        parse_scene.read_wind,
        lambda value: number(value, 1),
        "m/s",
        lambda _, value, by: max(0.0, round(value) + by),
        blank="not known",
    ),
    Entry(
        "wet",
        "Rain",
        ("scene", "wet"),
        str,
        str,
        choices={"": "dry", "wet": "rain, or all is wet"},
        gives=lambda document: "wet" if document["scene"].get("wet") else "",
        puts=lambda document, wet: document["scene"].update(wet=bool(wet)),
    ),
    Entry(
        "focal",
        "Focal length",
        ("lens", "focal_mm"),
        parse_quantities.read_focal,
        number,
        "mm",
        focal_step,
    ),
    Entry(
        "widest",
        "Widest aperture",
        ("lens", "widest"),
        parse_quantities.read_aperture,
        lambda value: f"f/{number(value, 2)}",
        hint=lambda setup: dialled(setup.apertures[0], dials.aperture_stops(setup.lens.widest), "f/"),
    ),
)
"""Every one of them."""
