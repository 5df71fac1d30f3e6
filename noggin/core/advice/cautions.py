"""Cautions raised by rule. The whole list is `RULES`; each row has its condition and its words.

They inform; local codes and licensed practice decide.
"""

from collections.abc import Callable
from dataclasses import dataclass

from noggin.core.advice.caution_tests import (
    BRIGHT_OUT,
    CUT_OUT,
    DRAGGED,
    FULL_LENGTH,
    GREAT_RESERVE,
    LAMPS,
    LEAPING,
    SHALLOW,
    WORTH_SAYING,
    at_the_feet,
    backlit,
    ballast_words,
    channels,
    clashing,
    clipping_words,
    dark_edge,
    diffracts,
    finder_fails,
    fires,
    frame_height,
    in_frame,
    polarised,
    said,
    sails,
    shakes,
    sharp_depth,
    smears,
    strong,
    strong_in_hss,
    strong_near_eyes,
    subject_miss,
    uneven,
    whiter_than_the_sun,
    without_hss,
    worst_droop,
)
from noggin.core.advice.details import black_part, clipping_level
from noggin.core.physics.battery import LONG_BURST
from noggin.core.physics.tones import BLACK, WHITE_DRESS, clips
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.tables import SUNLIT
from noggin.core.wording import listed, metres, percent, plain, signed, stops


@dataclass(frozen=True)
class Rule:
    """One caution: `stands` says in words when it applies, `when` and `say` see the set-up and the way."""

    key: str
    stands: str
    when: Callable[[SetUp, Way], bool]
    say: Callable[[SetUp, Way], str]


RULES = (
    Rule(
        "black_band",
        "past sync on a focal-plane shutter with a light that has no high-speed sync",
        lambda setup, way: bool(without_hss(way) and black_part(setup, way)),
        lambda setup, way: (
            f"Fired past sync, {said(without_hss(way))} leaves the bottom"
            f" {percent(black_part(setup, way) or 0)} of the frame black."
        ),
    ),
    Rule(
        "rolling",
        "an electronic rolling shutter",
        lambda setup, _: setup.camera.shutter == "rolling",
        lambda *_: "A rolling electronic shutter may not allow flash at all: test it before the day.",
    ),
    Rule(
        "edge_darkens",
        "a slow pulse near sync on a focal-plane shutter darkens one edge by more than a third of a stop",
        lambda setup, way: -dark_edge(setup, way) > WORTH_SAYING,
        lambda setup, way: (
            f"The flash is slow for {way.settings.shutter.label} s: it leaves one edge of the frame up to"
            f" {stops(-dark_edge(setup, way))} darker. Use a longer time."
        ),
    ),
    Rule(
        "finder",
        "a filter of 6 stops or more, or one that leaves the subject under EV 2",
        finder_fails,
        lambda _, way: (
            "Focus before the filter goes on: viewfinder and autofocus lose"
            f" {stops(way.settings.stack.stops)}."
        ),
    ),
    Rule(
        "power_follows",
        "a filter on the lens",
        lambda _, way: way.settings.stack.stops > 0,
        lambda *_: "Reset flash power when the filter comes off: it dimmed flash and daylight alike.",
    ),
    Rule(
        "polariser",
        "a polariser on the lens",
        polarised,
        lambda *_: (
            "Turn the polariser before you meter: it darkens blue sky across from the sun and"
            " takes the shine off leaves, water and skin."
        ),
    ),
    Rule(
        "variable_filter",
        "a variable filter on the lens",
        lambda _, way: way.settings.stack.variable,
        lambda *_: (
            "Keep the variable filter inside its range: beyond it a dark cross shows, sooner on wide"
            " lenses."
        ),
    ),
    Rule(
        "hss_mode",
        "past sync",
        lambda _, way: way.lighting.hss,
        lambda setup, _: (
            "Switch high-speed sync on at trigger and light, or the camera falls back to"
            f" {setup.camera.sync.label} s. Flash meters misread it."
        ),
    ),
    Rule(
        "droop",
        "a light whose high-speed sync droops by more than a third of a stop",
        lambda _, way: worst_droop(way) > WORTH_SAYING,
        lambda _, way: (
            f"In high-speed sync the frame darkens by {stops(worst_droop(way))} from one edge to the other."
        ),
    ),
    Rule(
        "heat",
        "a light at half power or more in high-speed sync",
        lambda _, way: bool(strong_in_hss(way)),
        lambda _, way: (
            f"Pause after some {LONG_BURST} frames: at"
            f" {listed([firing.power_words for firing in strong_in_hss(way)])} in high-speed sync a"
            " head gets hot and drains its battery. Its manual decides. Do not touch a hot head;"
            " keep lithium batteries away from heat."
        ),
    ),
    Rule(
        "rushed",
        "a light at half power or more within sync",
        lambda _, way: bool(strong(way)) and not way.lighting.hss,
        lambda *_: (
            "Wait for the ready light: near full power a head recycles slowly, and a rushed frame"
            " comes out dark."
        ),
    ),
    Rule(
        "channels",
        "lights on different channels",
        lambda setup, _: len(channels(setup)) > 1,
        lambda setup, _: (
            "Set all lights to one channel: they are on"
            f" {listed([str(number) for number in sorted(channels(setup))])}, and a trigger uses one."
        ),
    ),
    Rule(
        "groups",
        "lights of one group that need different powers",
        lambda _, way: bool(clashing(way)),
        lambda _, way: (
            f"Give {said(firing.light for firing in clashing(way))} a group each, or set the power on the"
            " heads: they share a group but need different powers."
        ),
    ),
    Rule(
        "optical_slaves",
        "several lights without group or channel in bright daylight",
        lambda setup, _: (
            len(setup.lights) > 1
            and setup.scene.background >= BRIGHT_OUT
            and any(not light.group and light.channel is None for light in setup.lights)
        ),
        lambda *_: "Fire every light by radio: optical slaves fail in sun.",
    ),
    Rule(
        "light_in_frame",
        "a light on the subject nearer to the lens axis than half the frame",
        lambda setup, _: bool(in_frame(setup)),
        lambda setup, _: (
            f"Move {said(in_frame(setup))} out, or retouch it: it shows at the edge of the frame."
        ),
    ),
    Rule(
        "uneven",
        "faces across which a light falls by more than a third of a stop",
        lambda setup, _: bool(uneven(setup)),
        lambda setup, _: (
            f"Move {said(uneven(setup))} farther away: from the nearest face to the farthest it"
            f" falls off by {stops(max(light.spread for light in uneven(setup)))}, which shows."
        ),
    ),
    Rule(
        "head_to_feet",
        "a full length lit from so near that the feet lie more than a third of a stop under the face",
        lambda setup, way: (
            frame_height(setup) >= FULL_LENGTH and -at_the_feet(setup) > WORTH_SAYING and fires(way)
        ),
        lambda setup, _: (
            f"The key falls off by {stops(-at_the_feet(setup))} from the face to the feet of a full length."
        ),
    ),
    Rule(
        "soft_and_far",
        "a full length in sun through a modifier that leaves less than half a stop",
        lambda setup, way: (
            frame_height(setup) >= FULL_LENGTH
            and setup.scene.background >= SUNLIT
            and setup.key.radius_m > 0
            and way.reserve is not None
            and way.reserve < 0.5
        ),
        lambda *_: "Use a bare reflector or crop closer: a softbox is weak for a full length in sun.",
    ),
    Rule(
        "shallow",
        "a depth of field under 15 cm",
        lambda _, way: sharp_depth(way) < SHALLOW,
        lambda _, way: f"Check the eyes magnified: only {sharp_depth(way) * 100:.0f} cm are in focus.",
    ),
    Rule(
        "diffraction",
        "an Airy disc larger than what reads as a point",
        diffracts,
        lambda _, way: f"f/{way.settings.aperture.label} softens the whole picture by diffraction.",
    ),
    Rule(
        "shake",
        "a time longer than 1/(focal length × crop)",
        shakes,
        lambda _, way: (
            f"{way.settings.shutter.label} s is too slow to hand-hold: use a tripod, a stabiliser or"
            " a wall."
        ),
    ),
    Rule(
        "burns_through",
        "a subject that smears before a background at mid-tone or brighter",
        lambda setup, way: way.lighting.levels.background >= 0 and smears(setup, way),
        lambda *_: "A bright background burns through the moving edges, whatever the flash freezes.",
    ),
    Rule(
        "sky_clips",
        "the sky at or over clipping",
        lambda setup, way: (
            way.lighting.levels.sky is not None
            and clips(way.lighting.levels.sky, clipping_level(setup, way))
        ),
        lambda setup, way: (
            f"The sky clips at {signed(way.lighting.levels.sky)}.{clipping_words(setup, way)}"
        ),
    ),
    Rule(
        "rim_clips",
        "the sunlit rim at or over clipping",
        lambda setup, way: (
            way.lighting.levels.rim is not None
            and clips(way.lighting.levels.rim, clipping_level(setup, way))
        ),
        lambda _, way: f"The sunlit rim clips at {signed(way.lighting.levels.rim)}.",
    ),
    Rule(
        "dress_clips",
        "a white dress at or over clipping with the faces where they come out",
        lambda setup, way: clips(way.lighting.levels.subject + WHITE_DRESS, clipping_level(setup, way)),
        lambda setup, way: (
            f"A white dress clips: with faces at {signed(way.lighting.levels.subject)} it lands at"
            f" {signed(way.lighting.levels.subject + WHITE_DRESS)}.{clipping_words(setup, way)}"
        ),
    ),
    Rule(
        "black_background",
        "the background at or under −5.5",
        lambda _, way: way.lighting.levels.background <= BLACK,
        lambda _, way: f"The background reads as black at {signed(way.lighting.levels.background)}.",
    ),
    Rule(
        "cut_out",
        "the background between −3 and −5.5 behind a subject two stops or more brighter",
        lambda _, way: (
            BLACK < way.lighting.levels.background <= CUT_OUT
            and way.lighting.levels.subject >= way.lighting.levels.background + 2
        ),
        lambda _, way: (
            "Add a rim light or a brighter background: with it at"
            f" {signed(way.lighting.levels.background)} the subject looks cut out."
        ),
    ),
    Rule(
        "subject_missed",
        "the subject more than a third of a stop off what is meant",
        lambda setup, way: abs(subject_miss(setup, way)) > WORTH_SAYING,
        lambda setup, way: (
            f"The faces come out {stops(abs(subject_miss(setup, way)))}"
            f" {'over' if subject_miss(setup, way) > 0 else 'under'} what you want, at"
            f" {signed(way.lighting.levels.subject)}."
        ),
    ),
    Rule(
        "auto_drifts",
        "automatic flash",
        lambda setup, _: setup.intent.school == "auto",
        lambda *_: "Check the first frame: automatic flash meters for itself and can drift.",
    ),
    Rule(
        "sun_patches",
        "direct sun on the subject's rim",
        lambda setup, _: setup.scene.rim is not None,
        lambda *_: "Turn the face or find shade: flash does not remove sun patches.",
    ),
    Rule(
        "whiter_than_sun",
        "a sun between −2° and 8° high and a light without a gel",
        whiter_than_the_sun,
        lambda *_: "Flash is cooler than a low sun: gel it (CTO), match the white balance.",
    ),
    Rule(
        "green",
        "grass underfoot where place and time are known",
        lambda setup, _: setup.scene.moment is not None and setup.scene.moment.place.ground == "grass",
        lambda *_: "Look at the skin: grass and leaves throw green into the shadows.",
    ),
    Rule(
        "lamps",
        "lamps are part of the light: the background at EV 7 or under",
        lambda setup, way: setup.scene.background <= LAMPS and way.settings.shutter.value < 1 / 100,
        lambda *_: "Lamps flicker: at short times their brightness and colour change from frame to frame.",
    ),
    Rule(
        "drags",
        "1/30 s or longer with flash",
        lambda _, way: way.settings.shutter.value >= DRAGGED and fires(way),
        lambda *_: (
            "Set second-curtain sync: at this time movement leaves trails, and they belong behind it."
        ),
    ),
    Rule(
        "least_power",
        "a key with five stops or more in reserve",
        lambda _, way: way.reserve is not None and way.reserve >= GREAT_RESERVE,
        lambda *_: "Look at three frames: far below full power a light can vary from pop to pop.",
    ),
    Rule(
        "screen_in_sun",
        "bright daylight behind",
        lambda setup, _: setup.scene.background >= BRIGHT_OUT,
        lambda *_: "Judge by the histogram: the camera's screen misleads in sun.",
    ),
    Rule(
        "live_view",
        "daylight leaves the subject three stops under mid-tone or darker",
        lambda _, way: way.lighting.levels.subject_ambient <= -3 and fires(way),
        lambda *_: "Switch exposure simulation off: live view goes dark without the flash.",
    ),
    Rule(
        "sun_behind",
        "the background two stops or more over the subject's shaded side",
        lambda setup, _: backlit(setup),
        lambda *_: (
            "Never look at the sun through an optical finder or a long lens: compose on the"
            " screen. Against the light, use a hood or a flag, or hide the sun behind the head."
        ),
    ),
    Rule(
        "eyes",
        "a light on the subject at half power or more within a metre",
        lambda _, way: bool(strong_near_eyes(way)),
        lambda _, way: (
            "Ask first, and spare infants and animals: this is strong flash close to the eyes"
            f" ({listed([metres(light.distance_m) for light in strong_near_eyes(way)])})."
        ),
    ),
    Rule(
        "bursts",
        "a moving subject or a count of frames, with flash",
        lambda setup, way: (
            fires(way) and (setup.scene.subject_speed_m_s > 0 or setup.intent.frames is not None)
        ),
        lambda *_: "Ask before a burst: repeated flashing can harm photosensitive people.",
    ),
    Rule(
        "leap",
        "a subject at 3 m/s or faster",
        lambda setup, _: setup.scene.subject_speed_m_s >= LEAPING,
        lambda *_: (
            "Anyone jumping, climbing or running near water or traffic needs a safe landing and a"
            " spotter first."
        ),
    ),
    Rule(
        "wind",
        "a face of 0.6 m or more across",
        lambda setup, _: bool(sails(setup)),
        lambda setup, _: (
            "Sandbag the stand, keep it low and have someone hold it: a modifier"
            f" {listed([plain(2 * light.radius_m) for light in sails(setup)])} m across is a"
            f" sail{ballast_words(setup)}"
        ),
    ),
    Rule(
        "permit",
        "place and time are known: a shoot on location",
        lambda setup, _: setup.scene.moment is not None,
        lambda *_: "Stands in public places may need a permit or insurance: follow local rules.",
    ),
    Rule(
        "trigger_voltage",
        "a light without high-speed sync",
        lambda setup, _: any(light.hss_toll is None for light in setup.lights),
        lambda *_: "Check an old flash for a high trigger voltage before it goes on a modern hot shoe.",
    ),
)
"""Every caution there is, in the order they are shown."""


def cautions(setup: SetUp, way: Way) -> tuple[str, ...]:
    """The cautions that apply to one way."""
    return tuple(rule.say(setup, way) for rule in RULES if rule.when(setup, way))
