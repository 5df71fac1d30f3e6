"""Cautions about the camera: its shutter, what is before its lens, how it is held, its screen."""

from noggin.core.advice.caution_conditions import (
    BRIGHT_OUT,
    DRAGGED,
    SHALLOW,
    WORTH_SAYING,
    dark_edge,
    dark_picture,
    diffracts,
    finder_fails,
    fires,
    ghosts,
    polarised,
    said,
    shakes,
    sharp_depth,
    without_hss,
    worst_droop,
)
from noggin.core.advice.caution_rule import HABIT, SHOWS, SPOILS, Rule
from noggin.core.advice.details import black_part
from noggin.core.planning.ways.prices import NOISE_SHOWS
from noggin.core.units import TOLERANCE
from noggin.core.wording import percent, stops

CAMERA_CAUTIONS = (
    Rule(
        "black_band",
        SPOILS,
        "past sync on a focal-plane shutter with a light that has no high-speed sync",
        lambda setup, way: bool(without_hss(way) and black_part(setup, way)),
        lambda setup, way: (
            f"Fired past sync, {said(without_hss(way))} leaves the bottom"
            f" {percent(black_part(setup, way) or 0)} of the frame black."
        ),
    ),
    Rule(
        "rolling",
        SPOILS,
        "an electronic rolling shutter with flash",
        lambda setup, way: setup.camera.shutter == "rolling" and fires(way),
        lambda *_: "A rolling electronic shutter may not allow flash at all: test it before the day.",
    ),
    Rule(
        "edge_darkens",
        SPOILS,
        "a slow pulse near sync on a focal-plane shutter darkens one edge by more than a third of a stop",
        lambda setup, way: -dark_edge(setup, way) > WORTH_SAYING,
        lambda setup, way: (
            f"The flash is slow for {way.settings.shutter.label} s: it leaves one edge of the frame up to"
            f" {stops(-dark_edge(setup, way))} darker. Use a longer time."
        ),
    ),
    Rule(
        "hss_mode",
        SPOILS,
        "past sync",
        lambda _, way: way.lighting.hss,
        lambda setup, _: (
            "Switch high-speed sync on at trigger and light, or the camera falls back to"
            f" {setup.camera.sync.label} s. Most flash meters cannot read high-speed sync."
        ),
    ),
    Rule(
        "droop",
        SHOWS,
        "a light whose high-speed sync droops by more than a third of a stop",
        lambda _, way: worst_droop(way) > WORTH_SAYING,
        lambda _, way: (
            f"In high-speed sync the frame darkens by {stops(worst_droop(way))} from one edge to the other."
        ),
    ),
    Rule(
        "shake",
        SPOILS,
        "a time longer than 1/(focal length × crop)",
        shakes,
        lambda _, way: (
            f"{way.settings.shutter.label} s is too slow to hand-hold: use a tripod, a stabiliser or"
            " a wall."
        ),
    ),
    Rule(
        "burns_through",
        SPOILS,
        "a subject that flash would freeze before a background over −2",
        ghosts,
        lambda *_: "The background burns through the moving edges, whatever the flash freezes.",
    ),
    Rule(
        "finder",
        SPOILS,
        "a filter of 6 stops or more, or one that leaves the subject under EV 2",
        finder_fails,
        lambda _, way: (
            "Focus before the filter goes on: viewfinder and autofocus lose"
            f" {stops(way.settings.stack.stops)}."
        ),
    ),
    Rule(
        "power_follows",
        SHOWS,
        "a filter on the lens",
        lambda _, way: way.settings.stack.stops > 0,
        lambda *_: "Reset flash power when the filter comes off: it dimmed flash and daylight alike.",
    ),
    Rule(
        "polariser",
        SHOWS,
        "a polariser on the lens",
        polarised,
        lambda *_: (
            "Turn the polariser before you meter: it darkens blue sky across from the sun and"
            " takes the shine off leaves, water and skin."
        ),
    ),
    Rule(
        "variable_filter",
        HABIT,
        "a variable filter on the lens",
        lambda _, way: way.settings.stack.variable,
        lambda *_: (
            "Keep the variable filter inside its range: beyond it a dark cross shows, sooner on wide"
            " lenses."
        ),
    ),
    Rule(
        "shallow",
        SHOWS,
        "a depth of field under 15 cm",
        lambda _, way: sharp_depth(way) < SHALLOW,
        lambda _, way: f"Check the eyes magnified: only {sharp_depth(way) * 100:.0f} cm are in focus.",
    ),
    Rule(
        "diffraction",
        SHOWS,
        "an Airy disc larger than what reads as a point",
        diffracts,
        lambda _, way: f"f/{way.settings.aperture.label} softens the whole picture by diffraction.",
    ),
    Rule(
        "noise",
        SHOWS,
        "ISO raised by two stops or more",
        lambda setup, way: way.settings.iso.stops - setup.camera.iso_low.stops >= NOISE_SHOWS - TOLERANCE,
        lambda _, way: f"Expect noise: ISO {way.settings.iso.label}.",
    ),
    Rule(
        "drags",
        SHOWS,
        "1/30 s or longer with flash",
        lambda _, way: way.settings.shutter.value >= DRAGGED and fires(way),
        lambda *_: (
            "Set second-curtain sync: at this time movement leaves trails, and they belong behind it."
        ),
    ),
    Rule(
        "live_view",
        HABIT,
        "daylight leaves faces and background three stops under mid-tone or darker",
        lambda _, way: dark_picture(way),
        lambda *_: "Switch exposure simulation off: live view goes dark without the flash.",
    ),
    Rule(
        "screen_in_sun",
        HABIT,
        "bright daylight behind",
        lambda setup, _: setup.scene.background >= BRIGHT_OUT,
        lambda *_: "Judge by the histogram: the camera's screen misleads in sun.",
    ),
)
