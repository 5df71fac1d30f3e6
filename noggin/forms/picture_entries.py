"""The figures of a picture as they are typed on the Bench: composition, daylight, intention, camera."""

from collections.abc import Callable, Mapping
from typing import Any

from noggin.core.errors import Unreadable
from noggin.core.physics import dials, optics, tones
from noggin.core.physics.tones import NAMED_LEVELS
from noggin.core.setup.camera import SUPPORTS
from noggin.core.setup.intent import PREFERENCES, SCHOOLS
from noggin.core.setup.setup import SetUp
from noggin.core.tables import (
    FRAMINGS,
    GROUNDS,
    LAMPS,
    LAMPS_UNCERTAINTY,
    MOVEMENTS,
    SKIES,
    SOURCES,
)
from noggin.core.typed import parse_quantities
from noggin.core.typed.parse_places import read_where
from noggin.core.wording import duration, metres, metres_span, number, plain, signed
from noggin.documents.fields import uncertainty_of
from noggin.forms.choice_entries import frame_height, frame_to, put_subject
from noggin.forms.entry import (
    Document,
    Entry,
    aperture_step,
    dialled,
    distance,
    distance_step,
    ev_step,
    focal_step,
    iso_step,
    read_dial_time,
    read_filters,
    read_name,
    show_dial_time,
    show_filters,
    third_step,
    time_step,
)

DEFAULT_SHARE = 0.2
"""Flash share to start from outdoors. Common practice, no source."""


def _framing(document: Document) -> str:
    height = frame_height(document)
    return next((key for key, (_, high) in FRAMINGS.items() if abs(high / height - 1) < 0.02), "")


def _put_framing(document: dict[str, Any], key: str) -> None:
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


def _put_group_depth(document: dict[str, Any], depth: float | None) -> None:
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


def _zone(zone: str, label: str, blank: str = "") -> Entry:
    """How bright one zone is: assumed until it is typed, read or estimated. A word of the trade is an
    estimate."""

    def gives(document: Document) -> Any:
        return document["scene"]["ev100"].get(zone)

    def puts(document: dict[str, Any], read: Any) -> None:
        scene = document["scene"]
        level, uncertainty = (None, None) if read is None else read
        scene["ev100"][zone] = None if level is None else round(level, 2)
        known = scene.setdefault("uncertainty", {})
        known[zone] = "measured" if uncertainty in (MEASURED, None) else uncertainty
        scene.get("moved_from", {}).get("ev100", {}).pop(zone, None)

    def known(document: Document) -> str:
        stated = document["scene"].get("uncertainty", {}).get(zone, "measured")
        uncertainty = uncertainty_of(stated)
        how = "read" if uncertainty <= MEASURED else "estimated"
        return f"{'assumed' if stated == 'assumed' else how} ± {plain(uncertainty)}"

    return Entry(
        f"ev_{zone}",
        label,
        ("scene", "ev100", zone),
        parse_quantities.read_zone,
        plain,
        "EV",
        ev_step,
        blank=blank,
        start=lambda setup: setup.scene.background,
        says=known,
        gives=gives,
        puts=puts,
    )


def _lamps(zone: str, label: str) -> Entry:
    """What lamps alone give a zone: by day they do not count, by night they are what is there."""

    def puts(document: dict[str, Any], lamps: float | None) -> None:
        scene = document["scene"]
        scene["lamps"] = {**(scene.get("lamps") or {}), zone: lamps}

    return Entry(
        f"lamps_{zone}",
        label,
        ("scene", "lamps", zone),
        parse_quantities.read_lamps,
        plain,
        "EV",
        ev_step,
        blank="none said; a place with lamps has a floor that stays when the sun goes",
        start=lambda _: LAMPS["fairy"].ev,
        hint=lambda _: f"± {plain(LAMPS_UNCERTAINTY)}; the zone's own figure holds them",
        gives=lambda document: (document["scene"].get("lamps") or {}).get(zone),
        puts=puts,
    )


MEASURED = SOURCES["measured"].uncertainty


def _show_where(place: Mapping[str, Any]) -> str:
    day, clock = place["time"][:10], place["time"][11:16]
    return f"{number(place['lat'], 4)}, {number(place['lon'], 4)} {day} {clock} {place['tz']}"


def _put_where(document: dict[str, Any], read: Any) -> None:
    scene = document["scene"]
    if read is None:
        scene["place"] = None
        return
    lat, lon, time, zone = read
    scene["place"] = {**(scene.get("place") or {}), "lat": lat, "lon": lon, "time": time, "tz": zone}


def _of_place(name: str) -> Callable[[Document], Any]:
    return lambda document: (document["scene"].get("place") or {}).get(name)


def _put_of_place(name: str) -> Callable[[dict[str, Any], Any], None]:
    def puts(document: dict[str, Any], value: Any) -> None:
        place = document["scene"].get("place")
        if not place:
            raise Unreadable("give a place and a time first")
        place[name] = value

    return puts


def _mood(document: Document) -> str:
    level = document["intent"]["background_level"]
    return next((name for name, named in NAMED_LEVELS.items() if abs(named - level) < 0.05), "")


def _level_of_mood(name: str) -> float:
    return NAMED_LEVELS[name]


def _put_school(document: dict[str, Any], school: str) -> None:
    flash = document["intent"]["flash"]
    flash["school"] = school
    if school == "share" and flash.get("share") is None:
        flash["share"] = DEFAULT_SHARE


APERTURE_WISHES = {
    "this": "this aperture",
    "any": "anything that keeps the place readable",
}
"""What the wanted aperture is for."""


def _hand_words(setup: SetUp) -> str:
    return "" if setup.hand_stops is None else f"steady to {duration(2**-setup.hand_stops)}"


def _put_filters(document: dict[str, Any], bag: list[dict[str, Any]]) -> None:
    """The bag as typed; a filter that was there keeps its name and its exact strength."""
    before = list(document["filters"])
    kept = []
    for item in bag:
        same = next((known for known in before if show_filters([known]) == show_filters([item])), None)
        if same:
            before.remove(same)
        kept.append(same or item)
    document["filters"] = kept


PICTURE_ENTRIES = {
    entry.key: entry
    for entry in (
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
            choices={
                number(speed, 2): f"{name}, {number(speed, 1)} m/s" for name, speed in MOVEMENTS.items()
            },
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
        Entry(
            "people",
            "Who is in it",
            ("scene", "people"),
            parse_quantities.read_people,
            parse_quantities.show_people,
            blank="not said: a white dress and a dark suit are looked after",
            empty=[],
            gives=lambda document: document["scene"].get("people") or [],
            puts=lambda document, people: document["scene"].update(people=people),
        ),
        Entry(
            "gust",
            "Wind, gusts of",
            ("scene", "gust_m_s"),
            parse_quantities.read_wind,
            lambda value: number(value, 1),
            "m/s",
            lambda _, value, by: max(0.0, round(value) + by),
            blank="not known",
        ),
        _zone("background", "Background"),
        _zone("subject", "Faces, in shade"),
        _zone("sky", "Sky", blank="not in frame"),
        _zone("rim", "Sunlit rim", blank="no direct sun"),
        _lamps("background", "Lamps on the background"),
        _lamps("subject", "Lamps on the faces"),
        Entry(
            "where",
            "Where and when",
            ("scene", "place"),
            read_where,
            _show_where,
            blank="not given; coordinates, date, time and zone allow a forecast",
            puts=_put_where,
        ),
        Entry(
            "sky_kind",
            "Sky",
            ("scene", "place"),
            str,
            str,
            choices={key: sky.label for key, sky in SKIES.items()},
            gives=_of_place("sky"),
            puts=_put_of_place("sky"),
        ),
        Entry(
            "ground",
            "Ground",
            ("scene", "place"),
            str,
            str,
            choices={key: ground.label for key, ground in GROUNDS.items()},
            gives=_of_place("ground"),
            puts=_put_of_place("ground"),
        ),
        Entry(
            "facing",
            "Camera looks toward",
            ("scene", "place"),
            parse_quantities.read_degrees,
            lambda value: number(value, 1),
            "°",
            lambda _, value, by: (value + 5 * by) % 360,
            blank="not given: the sunlit side faces the sun",
            gives=_of_place("facing_deg"),
            puts=_put_of_place("facing_deg"),
        ),
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
            hint=lambda setup: tones.mood(setup.intent.background_level),
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
}
"""Every figure of the picture, by its key."""
