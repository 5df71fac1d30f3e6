"""Cautions about the picture and the place: sun, clipping, backgrounds, lamps, movement."""

from noggin.core.advice.caution_conditions import (
    CUT_OUT,
    LEAPING,
    WORTH_SAYING,
    backlit,
    clipped,
    clipping_words,
    into_the_sun,
    lamps_light_it,
    spilt,
    subject_miss,
    unlit_night,
    zones_clipped,
)
from noggin.core.advice.caution_rule import HABIT, HARM, SHOWS, SPOILS, Rule
from noggin.core.advice.details import clipping_level, surfaces
from noggin.core.physics.appearance import BLACK, clips
from noggin.core.planning.verdicts import DARK_COUNTS_NOT, background_error
from noggin.core.tables import SUNLIT
from noggin.core.wording import metres, signed, stops

FLARE_AVOIDED = "Against the light, use a hood or a flag, or hide the sun behind the head."
FLARE_WANTED = (
    "For the flare you want, take the hood off, put the sun at the edge of the frame or just outside it,"
    " and turn until the veil lies where you want it: it lifts blacks, so faces need a little more light."
)

PICTURE_CAUTIONS = (
    Rule(
        "sun_behind",
        HARM,
        "the background two stops or more over the subject's shaded side",
        lambda setup, _: backlit(setup),
        lambda setup, _: (
            "Never look at the sun through an optical finder or a long lens: compose on the screen. "
            + (FLARE_WANTED if setup.intent.flare else FLARE_AVOIDED)
        ),
    ),
    Rule(
        "sun_disc",
        SHOWS,
        "the camera looks toward the sun: within 30° of it",
        lambda setup, _: into_the_sun(setup),
        lambda *_: (
            "The sun's disc clips whatever you do: hide it behind a head or a branch, or keep it small."
        ),
    ),
    Rule(
        "wet",
        HARM,
        "rain, or all is wet",
        lambda setup, _: setup.scene.is_wet,
        lambda *_: (
            "Cover heads, packs and triggers, keep plugs and packs off the ground, and leave anything on"
            " the mains indoors. Drops show when a light behind them meets a dark background. Local codes"
            " and the maker's manual decide."
        ),
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
            if setup.scene.people
            else "Anything white in the sun will clip: turn it away, shade it, or take the rim down."
        ),
    ),
    Rule(
        "dress_clips",
        SPOILS,
        "the brightest of what people wear or are at or over clipping at the level of the faces",
        lambda setup, way: surfaces(setup)[0].label in zones_clipped(setup, way),
        lambda setup, way: (
            f"{f'The {surfaces(setup)[0].label}' if setup.scene.people else 'Anything white'} clips: with"
            f" faces at {signed(way.lighting.levels.subject)} it lands at"
            f" {signed(way.lighting.levels.subject + surfaces(setup)[0].offset)}."
            f"{clipping_words(setup, way)}"
        ),
    ),
    Rule(
        "spill",
        SPOILS,
        "flash meant for the faces lifts a background by more than a third of a stop, and not one that is"
        " too dark",
        lambda setup, way: (
            spilt(way) > WORTH_SAYING and background_error(setup, way.lighting) >= -WORTH_SAYING
        ),
        lambda setup, way: (
            f"The light spills {stops(spilt(way))} on the background, {metres(setup.behind_m)} behind:"
            " a grid, a flag, or more room helps."
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
        "sun_patches",
        SPOILS,
        "direct sun on the subject's rim",
        lambda setup, _: setup.scene.rim is not None and setup.scene.rim >= SUNLIT,
        lambda *_: "Turn the face or find shade: flash does not remove sun patches.",
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
        "black_background",
        HABIT,
        "the background at or under −5.5",
        lambda _, way: way.lighting.levels.background <= BLACK,
        lambda _, way: f"The background reads as black at {signed(way.lighting.levels.background)}.",
    ),
    Rule(
        "cut_out",
        SHOWS,
        "the background between −3 and −5.5 behind a subject two stops or more brighter, where it is not"
        " meant black and nothing makes a rim",
        lambda setup, way: (
            BLACK < way.lighting.levels.background <= CUT_OUT
            and way.lighting.levels.subject >= way.lighting.levels.background + 2
            and setup.intent.background_level > DARK_COUNTS_NOT
            and way.lighting.levels.rim is None
        ),
        lambda _, way: (
            "Add a rim light or a brighter background: with it at"
            f" {signed(way.lighting.levels.background)} the subject looks cut out."
        ),
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
        "lamps are part of the light: they are said, or the background is at EV 7 or under and no sky is"
        " known to light it",
        lambda setup, way: lamps_light_it(setup) and way.settings.shutter.value < 1 / 100,
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
        "permit",
        HABIT,
        "place and time are known: a shoot on location",
        lambda setup, _: setup.scene.moment is not None,
        lambda *_: "Stands in public places may need a permit or insurance: follow local rules.",
    ),
)
