"""The figures of one light as they are typed on the Bench; their paths begin at the light."""

from collections.abc import Callable
from math import log2
from typing import Any, Literal

from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.setup.light import BEAMS, ROLES
from noggin.core.setup.setup import SetUp
from noggin.core.tables import BAFFLE_WORDS, GELS, MOUNTS
from noggin.core.typed import parse_quantities
from noggin.core.wording import number, plain, signed
from noggin.documents.written import LightWritten
from noggin.forms.entry import (
    Document,
    Entry,
    amount,
    distance,
    distance_step,
    least_power_step,
    one_step,
    read_name,
    show_power,
    tenth_step,
    third_step,
)


def _typed(figure: Literal["gn_m", "loss", "hss_toll"]) -> Callable[[LightWritten, Any], None]:
    """A figure set by hand: what was known of the one before it is not known of this one."""

    def puts(light: LightWritten, value: Any) -> None:
        light[figure] = value
        light.get("uncertainty", {}).pop(figure, None)

    return puts


def _mark(light: Document) -> float | None:
    """The mark of full power where the light counts in whole stops."""
    return light["full_mark"] if light["scale"] == "decimal" else None


def _read_least(text: str) -> str:
    parse_quantities.read_power(
        text, full_mark=10, energy_ws=1.0
    )  # refused here, read on the light's scale below
    return text


def _show_least(light: Document) -> str:
    mark, power = _mark(light), light["power_min"]
    if mark is None:
        return show_power(power)
    fraction = parse_quantities.read_fraction(power) if isinstance(power, str) else power
    return plain(mark + log2(fraction))


def _step_least(setup: SetUp, light: LightWritten, by: int) -> LightWritten:
    return {**light, "power_min": least_power_step(setup, light["power_min"], by)}


def _put_least(light: LightWritten, text: str) -> None:
    """The least power, in the light's own notation."""
    light["power_min"] = parse_quantities.read_power(text, _mark(light), light.get("energy_ws"))


def _read_group(text: str) -> str:
    return text.strip().upper()


LIGHT_ENTRIES = (
    Entry("light_name", "Name", ("name",), read_name, str),
    Entry(
        "role",
        "Role",
        ("role",),
        str,
        str,
        choices={key: role.label for key, role in ROLES.items()},
    ),
    Entry(
        "gn",
        "Guide number",
        ("gn_m",),
        parse_quantities.read_guide_number,
        lambda value: number(value, 1),
        "m",
        one_step,
        puts=_typed("gn_m"),
    ),
    Entry(
        "light_distance",
        "Light distance",
        ("distance_m",),
        parse_quantities.read_distance,
        distance,
        "m",
        distance_step,
    ),
    Entry(
        "loss",
        "Modifier loses",
        ("loss",),
        parse_quantities.read_amount,
        amount,
        "stops",
        tenth_step,
        puts=_typed("loss"),
    ),
    Entry(
        "face",
        "Size across",
        ("radius_m",),
        parse_quantities.read_distance,
        distance,
        "m",
        distance_step,
        blank="point source",
        empty=0.0,
        gives=lambda light: 2 * light["radius_m"],
        puts=lambda light, value: light.update(radius_m=value / 2),
    ),
    Entry(
        "heads",
        "Heads",
        ("count",),
        parse_quantities.read_count,
        lambda value: number(value, 0),
        "",
        one_step,
    ),
    Entry(
        "relative",
        "Level from the key",
        ("relative_level",),
        parse_quantities.read_stops,
        signed,
        "stops",
        third_step,
        blank="usual for its role",
    ),
    Entry(
        "scale",
        "Power shown as",
        ("scale",),
        str,
        str,
        choices={"fraction": "1/4 +0.3", "decimal": "7.3 of 10"},
    ),
    Entry(
        "power_min",
        "Least power",
        ("power_min",),
        _read_least,
        _show_least,
        stepped=_step_least,
        gives=dict,
        puts=_put_least,
    ),
    Entry(
        "toll",
        "High-speed toll",
        ("hss_toll",),
        parse_quantities.read_amount,
        amount,
        "stops",
        tenth_step,
        blank="no high-speed sync",
        puts=_typed("hss_toll"),
    ),
    Entry(
        "droop",
        "High-speed gradient",
        ("hss_droop",),
        parse_quantities.read_amount,
        amount,
        "stops",
        tenth_step,
        blank="none known",
        empty=0.0,
        gives=lambda light: light.get("hss_droop", 0.0),
    ),
    Entry(
        "gel",
        "Gel",
        ("gel",),
        str,
        str,
        choices={"": "no gel", **{key: gel.label for key, gel in GELS.items()}},
        gives=lambda light: light.get("gel") or "",
        puts=lambda light, gel: light.update(gel=gel or None),
    ),
    Entry(
        "grid",
        "Grid",
        ("grid",),
        str,
        str,
        choices={"": "no grid", "grid": "with a grid"},
        gives=lambda light: "grid" if light.get("grid") else "",
        puts=lambda light, grid: light.update(grid=bool(grid)),
    ),
    Entry(
        "zoom",
        "Zoom head at",
        ("zoom_mm",),
        parse_quantities.read_focal,
        lambda value: number(value, 0),
        "mm",
        blank="no zoom head",
    ),
    Entry(
        "upright",
        "Head",
        ("upright",),
        str,
        str,
        choices={"": "lying", "upright": "upright"},
        gives=lambda light: "upright" if light.get("upright") else "",
        puts=lambda light, way: light.update(upright=bool(way)),
    ),
    Entry(
        "baffles",
        "Baffles",
        ("baffles",),
        str,
        str,
        choices=BAFFLE_WORDS,
        gives=lambda light: light.get("baffles", "both"),
    ),
    Entry(
        "mount",
        "It is",
        ("mount",),
        str,
        str,
        choices=MOUNTS,
        gives=lambda light: light.get("mount", "stand"),
    ),
    Entry(
        "angle",
        "Off the lens axis",
        ("angle_deg",),
        parse_quantities.read_degrees,
        lambda value: number(value, 0),
        "°",
        lambda _, value, by: min(180.0, max(0.0, round(value / 5) * 5 + 5 * by)),
        gives=lambda light: light.get("angle_deg", 45.0),
    ),
    Entry(
        "faces_from",
        "Faces, from the light",
        ("face_distances_m",),
        parse_quantities.read_distances,
        lambda faces: ", ".join(distance(face) for face in faces),
        "m",
        blank="one face, at the light's distance",
        empty=[],
        gives=lambda light: light.get("face_distances_m") or [],
    ),
    Entry(
        "head",
        "Kind of head",
        ("head",),
        str,
        str,
        choices={key: kind.label for key, kind in PULSE_CLASSES.items()},
        gives=lambda light: light.get("head", "cut"),
    ),
    Entry(
        "beam",
        "Its own light",
        ("beam",),
        str,
        str,
        choices=BEAMS,
        gives=lambda light: light.get("beam", "bare"),
    ),
    Entry(
        "energy",
        "Energy of a full pop",
        ("energy_ws",),
        parse_quantities.read_energy,
        lambda value: number(value, 0),
        "Ws",
        blank="not known",
    ),
    Entry("group", "Group", ("group",), _read_group, str, blank="none", empty=""),
    Entry(
        "channel",
        "Channel",
        ("channel",),
        parse_quantities.read_count,
        lambda value: number(value, 0),
        "",
        one_step,
        blank="none",
    ),
)
"""Every figure of one light; their paths begin at the light."""
