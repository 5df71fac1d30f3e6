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
    LAMPS,
    LEAPING,
    SHALLOW,
    WORTH_SAYING,
    at_least_power,
    at_the_feet,
    backlit,
    ballast_words,
    channels,
    clashing,
    clipped,
    clipping_words,
    dark_edge,
    dark_picture,
    diffracts,
    finder_fails,
    fires,
    frame_height,
    ghosts,
    in_frame,
    into_the_sun,
    polarised,
    said,
    sails,
    shakes,
    sharp_depth,
    spilt,
    strong,
    strong_in_hss,
    strong_near_eyes,
    subject_miss,
    uneven,
    unlit_night,
    whiter_than_the_sun,
    without_hss,
    worst_droop,
    zones_clipped,
)
from noggin.core.advice.details import black_part, clipping_level, surfaces
from noggin.core.advice.price import NOISE_SHOWS
from noggin.core.physics.battery import LONG_BURST
from noggin.core.physics.tones import BLACK, clips
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.tables import SUNLIT
from noggin.core.units import TOLERANCE
from noggin.core.wording import listed, metres, percent, plain, signed, stops

HARM, SPOILS, SHOWS, HABIT = 4, 3, 2, 1
"""What a caution weighs: somebody may be hurt; the picture is lost; it shows in the picture; a good
habit."""

MATTERS = 3
"""So many cautions are said first."""


@dataclass(frozen=True)
class Rule:
    """One caution: what it weighs, `stands` says in words when it applies, `when` and `say` see the set-up
    and the way."""

    key: str
    weight: int
    stands: str
    when: Callable[[SetUp, Way], bool]
    say: Callable[[SetUp, Way], str]


RULES = (
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
        "hss_mode",
        SPOILS,
        "past sync",
        lambda _, way: way.lighting.hss,
        lambda setup, _: (
            "Switch high-speed sync on at trigger and light, or the camera falls back to"
            f" {setup.camera.sync.label} s. Flash meters misread it."
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
        "heat",
        SHOWS,
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
        SHOWS,
        "a light at half power or more within sync",
        lambda _, way: bool(strong(way)) and not way.lighting.hss,
        lambda *_: (
            "Wait for the ready light: near full power a head recycles slowly, and a rushed frame"
            " comes out dark."
        ),
    ),
    Rule(
        "channels",
        SHOWS,
        "lights on different channels",
        lambda setup, _: len(channels(setup)) > 1,
        lambda setup, _: (
            "Set all lights to one channel: they are on"
            f" {listed([str(number) for number in sorted(channels(setup))])}, and a trigger uses one."
        ),
    ),
    Rule(
        "groups",
        SHOWS,
        "lights of one group that need different powers",
        lambda _, way: bool(clashing(way)),
        lambda _, way: (
            f"Give {said(firing.light for firing in clashing(way))} a group each, or set the power on the"
            " heads: they share a group but need different powers."
        ),
    ),
    Rule(
        "optical_slaves",
        SHOWS,
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
        SPOILS,
        "a light on the subject nearer to the lens axis than half the frame",
        lambda setup, _: bool(in_frame(setup)),
        lambda setup, _: (
            f"Move {said(in_frame(setup))} out, or retouch it: it shows at the edge of the frame."
        ),
    ),
    Rule(
        "uneven",
        SHOWS,
        "faces across which a light falls by more than a third of a stop",
        lambda setup, _: bool(uneven(setup)),
        lambda setup, _: (
            f"Move {said(uneven(setup))} farther away: from the nearest face to the farthest it"
            f" falls off by {stops(max(light.spread for light in uneven(setup)))}, which shows."
        ),
    ),
    Rule(
        "head_to_feet",
        SHOWS,
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
        SHOWS,
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
        "sky_clips",
        SHOWS,
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
        SPOILS,
        "what people wear or are at or over clipping where sun or a rim light falls on it",
        lambda setup, way: any("at the rim" in zone for zone in clipped(setup, way)),
        lambda setup, way: (
            f"{next(zone for zone in clipped(setup, way) if 'at the rim' in zone)} clips: turn them, shade"
            " them, or take the rim down."
        ),
    ),
    Rule(
        "dress_clips",
        SPOILS,
        "the brightest of what people wear or are at or over clipping at the level of the faces",
        lambda setup, way: surfaces(setup)[0].label in zones_clipped(setup, way),
        lambda setup, way: (
            f"{'A' if not setup.scene.people else 'The'} {surfaces(setup)[0].label} clips: with faces at"
            f" {signed(way.lighting.levels.subject)} it lands at"
            f" {signed(way.lighting.levels.subject + surfaces(setup)[0].offset)}."
            f"{clipping_words(setup, way)}"
        ),
    ),
    Rule(
        "spill",
        SPOILS,
        "flash meant for the faces lifts a background by more than a third of a stop",
        lambda _, way: spilt(way) > WORTH_SAYING,
        lambda setup, way: (
            f"The light spills {stops(spilt(way))} on the background, {metres(setup.behind_m)} behind:"
            " a grid, a flag, or more room helps."
        ),
    ),
    Rule(
        "sky_toward_sun",
        SHOWS,
        "the camera looks toward the sun: within 30° of it",
        lambda setup, _: setup.scene.sky is not None and into_the_sun(setup),
        lambda *_: (
            "Toward the sun the sky is 1 to 3 stops brighter than the rest of it: look at its histogram."
        ),
    ),
    Rule(
        "noise",
        SHOWS,
        "ISO raised by two stops or more",
        lambda setup, way: way.settings.iso.stops - setup.camera.iso_low.stops >= NOISE_SHOWS - TOLERANCE,
        lambda _, way: f"Expect noise: ISO {way.settings.iso.label}.",
    ),
    Rule(
        "black_background",
        HABIT,
        "the background at or under −5.5",
        lambda _, way: way.lighting.levels.background <= BLACK,
        lambda _, way: f"The background reads as black at {signed(way.lighting.levels.background)}.",
    ),
    Rule(
        "cut_out",
        SHOWS,
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
        SPOILS,
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
        SHOWS,
        "automatic flash",
        lambda setup, _: setup.intent.school == "auto",
        lambda *_: "Check the first frame: automatic flash meters for itself and can drift.",
    ),
    Rule(
        "sun_patches",
        SPOILS,
        "direct sun on the subject's rim",
        lambda setup, _: setup.scene.rim is not None and setup.scene.rim >= SUNLIT,
        lambda *_: "Turn the face or find shade: flash does not remove sun patches.",
    ),
    Rule(
        "whiter_than_sun",
        SPOILS,
        "a sun between −2° and 8° high and a light without a gel",
        whiter_than_the_sun,
        lambda *_: "Flash is cooler than a low sun: gel it (CTO), match the white balance.",
    ),
    Rule(
        "green",
        HABIT,
        "grass underfoot where place and time are known",
        lambda setup, _: setup.scene.moment is not None and setup.scene.moment.place.ground == "grass",
        lambda *_: "Look at the skin: grass and leaves throw green into the shadows.",
    ),
    Rule(
        "lamps",
        SHOWS,
        "lamps are part of the light: the background at EV 7 or under",
        lambda setup, way: setup.scene.background <= LAMPS and way.settings.shutter.value < 1 / 100,
        lambda *_: "Lamps flicker: at short times their brightness and colour change from frame to frame.",
    ),
    Rule(
        "no_lamps_said",
        SHOWS,
        "night where place and time are known, and no lamps are said",
        lambda setup, _: unlit_night(setup),
        lambda *_: "Say what lamps there are: without them this is the light of the night sky alone.",
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
        "least_power",
        SHOWS,
        "a light within a stop of its least power",
        lambda _, way: bool(at_least_power(way)),
        lambda _, way: (
            f"Look at three frames: so near its least power {said(at_least_power(way))} can vary from"
            " pop to pop."
        ),
    ),
    Rule(
        "screen_in_sun",
        HABIT,
        "bright daylight behind",
        lambda setup, _: setup.scene.background >= BRIGHT_OUT,
        lambda *_: "Judge by the histogram: the camera's screen misleads in sun.",
    ),
    Rule(
        "live_view",
        HABIT,
        "daylight leaves faces and background three stops under mid-tone or darker",
        lambda _, way: dark_picture(way),
        lambda *_: "Switch exposure simulation off: live view goes dark without the flash.",
    ),
    Rule(
        "sun_behind",
        HARM,
        "the background two stops or more over the subject's shaded side",
        lambda setup, _: backlit(setup),
        lambda *_: (
            "Never look at the sun through an optical finder or a long lens: compose on the"
            " screen. Against the light, use a hood or a flag, or hide the sun behind the head."
        ),
    ),
    Rule(
        "eyes",
        HARM,
        "a light on the subject at half power or more within a metre",
        lambda _, way: bool(strong_near_eyes(way)),
        lambda _, way: (
            "Ask first, and spare infants and animals: this is strong flash close to the eyes"
            f" ({listed([metres(light.distance_m) for light in strong_near_eyes(way)])})."
        ),
    ),
    Rule(
        "bursts",
        HARM,
        "a moving subject or a count of frames, with flash",
        lambda setup, way: (
            fires(way) and (setup.scene.subject_speed_m_s > 0 or setup.intent.frames is not None)
        ),
        lambda *_: "Ask before a burst: repeated flashing can harm photosensitive people.",
    ),
    Rule(
        "leap",
        HARM,
        "a subject at 3 m/s or faster",
        lambda setup, _: setup.scene.subject_speed_m_s >= LEAPING,
        lambda *_: (
            "Anyone jumping, climbing or running near water or traffic needs a safe landing and a"
            " spotter first."
        ),
    ),
    Rule(
        "wind",
        HARM,
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
        HABIT,
        "place and time are known: a shoot on location",
        lambda setup, _: setup.scene.moment is not None,
        lambda *_: "Stands in public places may need a permit or insurance: follow local rules.",
    ),
    Rule(
        "trigger_voltage",
        HABIT,
        "a light without high-speed sync",
        lambda setup, _: any(light.hss_toll is None for light in setup.lights),
        lambda *_: "Check an old flash for a high trigger voltage before it goes on a modern hot shoe.",
    ),
)
"""Every caution there is; of equal weight the first comes first."""


@dataclass(frozen=True)
class Caution:
    """A caution that applies: its key in RULES, what it weighs, and what it says."""

    key: str
    weight: int
    text: str


def weighed(setup: SetUp, way: Way) -> tuple[Caution, ...]:
    """The cautions that apply to one way, the weightiest first."""
    found = (
        Caution(rule.key, rule.weight, rule.say(setup, way)) for rule in RULES if rule.when(setup, way)
    )
    return tuple(sorted(found, key=lambda caution: -caution.weight))


def cautions(setup: SetUp, way: Way) -> tuple[str, ...]:
    """What they say."""
    return tuple(caution.text for caution in weighed(setup, way))
