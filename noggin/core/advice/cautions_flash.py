"""Cautions about the lights: who they may harm, how they fire, where they stand, what they can give."""

from noggin.core.advice.caution_conditions import (
    BRIGHT_OUT,
    FULL_LENGTH,
    WORTH_SAYING,
    at_least_power,
    at_the_feet,
    ballast_words,
    channels,
    clashing,
    fires,
    frame_height,
    in_frame,
    old_speedlight,
    said,
    sails,
    strong,
    strong_in_hss,
    strong_near_eyes,
    uneven,
    whiter_than_the_sun,
)
from noggin.core.advice.caution_rule import HABIT, HARM, SHOWS, SPOILS, Rule
from noggin.core.advice.coverage import cover_words, too_narrow
from noggin.core.advice.layout_words import ways_out
from noggin.core.physics.battery import LONG_BURST
from noggin.core.setup.setup import SetUp
from noggin.core.tables import SUNLIT
from noggin.core.wording import listed, metres, plain, stops


def _out_of_it(setup: SetUp) -> str:
    """By the plan, how the first of the lights that show does not."""
    ways = ways_out(setup, in_frame(setup)[0])
    return f" Out of it: {ways}." if ways else ""


FLASH_CAUTIONS = (
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
            f"{_out_of_it(setup)}"
        ),
    ),
    Rule(
        "uneven",
        SHOWS,
        "faces across which a light falls by more than a third of a stop",
        lambda setup, _: bool(uneven(setup)),
        lambda setup, _: (
            f"Move {said(uneven(setup))} farther away: from the nearest face to the farthest it"
            f" falls off by {stops(max(light.spread for light in uneven(setup)))}, which shows. Or feather"
            " it: aim past the nearest face at the farthest."
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
        "cover",
        SHOWS,
        "a light on the subject whose beam falls by more than a stop inside what is framed of the people",
        lambda setup, way: fires(way) and bool(too_narrow(setup)),
        lambda setup, _: cover_words(too_narrow(setup)[0]),
    ),
    Rule(
        "pole",
        HARM,
        "a light on a pole that somebody holds",
        lambda setup, _: any(light.mount == "pole" for light in setup.lights),
        lambda *_: (
            "Whoever holds the pole stands firm, rests between frames and lowers it in a gust; keep it"
            " clear of wires and of heads."
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
        "auto_drifts",
        SHOWS,
        "automatic flash",
        lambda setup, _: setup.intent.school == "auto",
        lambda *_: "Check the first frame: automatic flash meters for itself and can drift.",
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
        "whiter_than_sun",
        SPOILS,
        "a sun between −2° and 8° high and a light without a gel",
        whiter_than_the_sun,
        lambda *_: "Flash is cooler than a low sun: gel it (CTO), match the white balance.",
    ),
    Rule(
        "trigger_voltage",
        HABIT,
        "a speedlight without high-speed sync, not fired by radio",
        lambda setup, _: any(old_speedlight(light) for light in setup.lights),
        lambda *_: "Check an old flash for a high trigger voltage before it goes on a modern hot shoe.",
    ),
)
