"""What geometry says, in words: a label, a sentence, and whether it matters."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import dist

from noggin.core.layout.findings import SHOWS_FROM, LightFinding, Standing
from noggin.core.layout.moves import past_deg
from noggin.core.layout.surroundings import bounced_by, cable_crosses, of_scrim, tips_toward
from noggin.core.planning.lighting import on_background_by
from noggin.core.setup.light import Light
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.core.wording import listed, metres, number, signed, stops

SOFT_FROM_DEG, HARD_TO_DEG = 20.0, 6.0
"""A light that the face sees wider than the first is soft, under the second hard. Common practice, no
source."""

FEET_FROM_M = 1.6
"""From this height of the frame at the subject on, feet or hands are in it, and light on them counts."""


@dataclass(frozen=True)
class Note:
    """One thing that geometry says; `matters` where something should be done about it."""

    label: str
    text: str
    matters: bool = False


def softness(across_deg: float) -> str:
    """A light's softness in a word.

    >>> softness(30), softness(10), softness(2)
    ('soft', 'fairly soft', 'hard')
    """
    if across_deg >= SOFT_FROM_DEG:
        return "soft"
    return "fairly soft" if across_deg > HARD_TO_DEG else "hard"


def side_of(off_deg: float) -> str:
    """A side of the camera.

    >>> side_of(-40), side_of(3)
    ('left', 'right')
    """
    return "left" if off_deg < 0 else "right"


def where(found: LightFinding) -> str:
    """Where a light stands, in figures: "2.40 m, 45° left, 14° up"."""
    place = found.placement
    up = f"{number(abs(place.up_deg), 0)}° {'up' if place.up_deg >= 0 else 'down'}"
    return f"{metres(found.distance_m)}, {number(abs(place.off_deg), 0)}° {side_of(place.off_deg)}, {up}"


def light_notes(standing: Standing, found: LightFinding) -> Iterator[Note]:
    """What is said of one light, what matters first."""
    if found.light.role == "background":
        yield Note("Lights", f"the background, from {metres(found.distance_m)}")
    if found.shows:
        yield Note("In the frame", _shown(found), matters=True)
    if found.flares:
        yield Note("Flare", "shines toward the lens: hood, flag or grid", matters=True)
    if found.shaded:
        count = len(found.shaded)
        whose = "one face" if count == 1 else f"{count} faces"
        yield Note("Shadow", f"someone stands in the light of {whose}: raise it or turn them", matters=True)
    if found.blocked_by:
        yield Note(
            "Blocked", f"the {listed(found.blocked_by)} stands between it and the face", matters=True
        )
    yield from _stand_notes(standing, found)
    if found.light.role == "background":
        return
    yield Note("Placement", _placed(found))
    across = "a point" if found.softness_deg < 0.5 else f"seen {number(found.softness_deg, 0)}° wide"
    yield Note("Softness", f"{softness(found.softness_deg)}, {across}")
    if found.light.lights_subject:
        yield _catchlight(found)
        if found.nearest_m is not None and not found.shows:
            yield Note("Stays out", f"from {metres(found.nearest_m)} on along its bearing")
    yield from _evenness(standing, found)
    if found.ballast_kg:
        yield Note(
            "Ballast",
            f"{number(found.ballast_kg, 0)} kg on the stand in these gusts; local rules decide",
            matters=found.ballast_kg >= HEAVY_KG,
        )


def _stand_notes(standing: Standing, found: LightFinding) -> Iterator[Note]:
    """What is said of a light's stand: its feet, its cable, and where the wind would throw it."""
    if found.on_the_way:
        yield Note("Feet", "on the way between camera and subject: turn a leg", matters=True)
    if cable_crosses(standing, found.name):
        text = "across the way between camera and subject: lead it round, or tape it down"
        yield Note("Cable", text, matters=True)
    tipped = tips_toward(standing, found.name)
    if tipped:
        whose = _called(standing, tipped)
        yield Note("Wind", f"would throw it toward {whose}: move it, or someone holds it", matters=True)


HEAVY_KG = 5.0
"""Ballast from which on one has to have thought of it at home. Common practice, no source."""


def _shown(found: LightFinding) -> str:
    parts = (("modifier", found.shows.modifier), ("stand", found.shows.stand))
    what = listed([word for word, seen in parts if seen])
    helps = _helps(found)
    return f"its {what}. Out of it {listed(helps, 'or')}" if helps else f"its {what}"


def _helps(found: LightFinding) -> list[str]:
    """How a light that shows is put out of the frame."""
    out, helps = found.way_out, []
    if out and out.distance_m is not None:
        helps.append(f"{metres(out.distance_m)} away")
    if out and out.height_m is not None and not found.shows.stand:
        helps.append(f"up at {metres(out.height_m)}")
    if out and out.aside_deg is not None:
        helps.append(f"{number(out.aside_deg, 0)}° farther round")
    return helps


def ways_out(setup: SetUp, light: Light) -> str:
    """How a light of a set-up with a plan is put out of the frame, in words; empty where nothing tells."""
    if setup.scene.layout is None:
        return ""
    found = next((one for one in Standing(setup).lights if one.light.says == light.says), None)
    return listed(_helps(found), "or") if found else ""


def _placed(found: LightFinding) -> str:
    place = found.placement
    name = {
        "loop": "loop: the nose's shadow falls to the cheek",
        "triangle": "three-quarter: a triangle of light under the far eye",
        "near split": "nearly split",
    }.get(place.name, place.name)
    return f"{name}; {place.side} side" if place.side else name


def _catchlight(found: LightFinding) -> Note:
    if found.hour is None:
        return Note(
            "Catchlight", "none in the eyes: lower it or bring it round", matters=found.light.role == "key"
        )
    return Note("Catchlight", f"at {found.hour} o'clock")


def _evenness(standing: Standing, found: LightFinding) -> Iterator[Note]:
    if found.feathered_deg >= 3:
        past = past_deg(standing.layout, standing.layout.lights[found.name])
        way = ", toward the camera" if past >= 1 else ", away from the camera" if past <= -1 else ""
        less = f"{stops(found.feathered)} less there"
        yield Note("Feathered", f"aimed {number(found.feathered_deg, 0)}° past the face{way}: {less}")
    if len(standing.layout.people) > 1 and found.light.lights_subject:
        yield Note(
            "Across faces", f"{stops(found.across)} from one to another", matters=found.across > SHOWS_FROM
        )
    tall = standing.frame.half_up * 2 * standing.layout.subject_distance_m()
    if tall >= FEET_FROM_M:
        yield Note("Head to foot", f"{stops(found.to_feet)} less at the feet", matters=found.to_feet > 1.0)
    behind = on_background_by(found.light, standing.setup.behind_m)
    if found.light.lights_subject and behind >= SPILL_SAID:
        yield Note("On the background", f"{signed(behind)} against the subject")
    for surface in found.surfaces:
        yield Note(
            f"On the {surface.surface}",
            f"{signed(surface.level)} against the subject, at {metres(surface.distance_m)}",
        )


SPILL_SAID: Stops = -6.0
"""What a light leaves on the background is not worth saying under this, against the subject."""


def sun_notes(standing: Standing) -> Iterator[Note]:
    """What is said of the sun."""
    found = standing.under_sun
    if found is None:
        yield Note("Sun", "none: cloud, night, or place and view are not said")
        return
    sun = found.sun
    behind = "behind the subject" if abs(sun.off_deg) < 90 else "behind the camera"
    if sun.assumed:
        yield Note("Sun", "somewhere behind: a rim was read, place and view are not said")
        return
    off = f"{number(abs(sun.off_deg), 0)}° {side_of(sun.off_deg)} of the view"
    yield Note("Sun", f"{number(sun.height_deg, 0)}° high, {off}, {behind}")
    if found.shadow_m is not None:
        yield Note("Shadow", f"a person's is {metres(found.shadow_m)} long")
    if found.in_frame:
        yield Note(
            "In the frame", "the sun itself: never look at it through an optical finder", matters=True
        )
    if found.on_faces:
        whose = "the face" if len(standing.layout.people) == 1 else f"{len(found.on_faces)} of the faces"
        yield Note(
            "Sun patches", f"on {whose}: flash cannot take them away, turning or shade can", matters=True
        )


def _called(standing: Standing, people: tuple[int, ...]) -> str:
    """People by who they are, or how many they are."""
    layout = standing.layout
    if len(layout.people) == 1:
        return "the subject"
    roles = [layout.people[index].role for index in people]
    if all(roles) and len(roles) <= NAMED_MOST:
        return listed([f"the {role}" for role in roles])
    return "one of them" if len(people) == 1 else f"{len(people)} of them"


NAMED_MOST = 3
"""More people than this are counted, not named."""


def surface_notes(standing: Standing, index: int) -> Iterator[Note]:
    """What is said of a surface."""
    surface = standing.layout.surfaces[index]
    thrown = list(bounced_by(standing, surface))
    if thrown:
        said = listed([f"{one.light} {signed(one.level)}" for one in thrown])
        yield Note("Throws on", f"{said}, on the side of the face turned to it")
    if any(one.light == "sun" for one in thrown):
        yield Note("Reading", "read the daylight with it in place: the figures do not know of it")


def scrim_notes(standing: Standing) -> Iterator[Note]:
    """What is said of the scrim."""
    scrim, found = standing.layout.scrim, of_scrim(standing)
    if scrim is None or found is None:
        return
    everybody = len(standing.layout.people)
    if not found.over_faces:
        yield Note("Shade", "its shadow falls beside them: move it toward the sun", matters=True)
    elif len(found.over_faces) < everybody:
        whose = _called(standing, found.over_faces)
        yield Note("Shade", f"on {whose} only: the others stand in the sun", matters=True)
    else:
        yield Note("Shade", f"{stops(scrim.stops)} off their daylight, counted in the figures of the Bench")
    yield Note("Softness", f"{softness(found.softness_deg)}, seen {number(found.softness_deg, 0)}° wide")
    if found.in_frame:
        yield Note("In the frame", "the scrim itself: hold it higher, toward the sun", matters=True)
    if found.force_n is not None:
        pull = number(found.force_n, 0)
        text = f"a gust pulls at it with {pull} N: two hold it, and let go before they fall"
        yield Note("Wind", text, matters=found.force_n >= HELD_MOST_N)


HELD_MOST_N = 50.0
"""A pull from which on one helper does not hold a scrim for long. Common practice, no source."""

SIDES = (
    (22.5, "behind the subject"),
    (67.5, "behind the subject, {side}"),
    (112.5, "the {side}"),
    (157.5, "behind the camera, {side}"),
    (180.0, "behind the camera"),
)
"""From where the wind comes, up to so many degrees off the camera's view."""


def from_where(wind_deg: float) -> str:
    """From where the wind comes, in words.

    >>> from_where(-90), from_where(170), from_where(45)
    ('the left', 'behind the camera', 'behind the subject, right')
    """
    words = next(words for most, words in SIDES if abs(wind_deg) <= most)
    return words.format(side=side_of(wind_deg))


def wind_notes(standing: Standing) -> Iterator[Note]:
    """What is said of the wind."""
    gust, side = standing.setup.scene.gust_m_s, standing.layout.wind_deg
    whence = "any side" if side is None else from_where(side)
    if gust is not None:
        yield Note("Wind", f"gusts of {number(gust, 1)} m/s from {whence}")
    else:
        known = "" if side is None else f"from {whence}; how strong is "
        yield Note("Wind", f"{known}not said: give it on the Bench and the ballast is worked out")


def layout_words(standing: Standing) -> str:
    """The whole plan in a sentence or two, for those who do not see it."""
    layout = standing.layout
    people = "one person" if len(layout.people) == 1 else f"{len(layout.people)} people"
    said = [f"Camera {metres(layout.subject_distance_m())} from {people}"]
    said += [f"{found.name}: {where(found)}" for found in standing.lights]
    said += [
        f"{name} {metres(dist((0.0, 0.0), surface.middle))} from the subject"
        for name, surface in zip(layout.surface_names, layout.surfaces, strict=True)
    ]
    if layout.scrim is not None:
        said.append(f"a scrim {metres(dist(layout.scrim.at, layout.face))} from the face")
    return "; ".join(said) + "."
