"""Questions in words and figures: one for each belief, and some that tell several apart."""

from math import log2
from random import Random

from noggin.core.advice.inside_shutter import InsideShutter
from noggin.core.physics import flash
from noggin.core.physics.appearance import CLOTHES, MID_TONE_REFLECTANCE
from noggin.core.physics.dials import shutter_dial
from noggin.core.physics.power import power_label
from noggin.core.physics.pulse import PULSE_CLASSES
from noggin.core.practice.task import Drill, DrillQuestion, DrillQuestionInStops
from noggin.core.tables import TOLLS
from noggin.core.wording import metres, percent, plain, signed_stops, stops

TIMES = (30, 60, 125, 250, 500, 1000, 2000, 4000, 8000)
"""Whole stops of time on a dial, 1/s."""


def _time(chance: Random, least: float, most: float) -> str:
    """A whole stop of time, as it is dialled, between two (1/s)."""
    return chance.choice([f"1/{one}" for one in TIMES if least <= one <= most])


def _seconds(time: str) -> float:
    return 1 / float(time[2:])


def _stops_between(slow: str, fast: str) -> float:
    """Stops from one dialled time to a faster one."""
    first, second = (shutter_dial(3).nearest(-log2(_seconds(one))).stops for one in (slow, fast))
    return second - first


def _hss_power(chance: Random) -> DrillQuestionInStops:
    toll = chance.choice([row.toll for row in TOLLS.values()])
    sync, fast = "1/250", _time(chance, 1000, 4000)
    shorter = _stops_between(sync, fast)
    return DrillQuestionInStops(
        f"At {sync} s, the sync speed, a full pop is right on the face. You go to {fast} s in high-speed"
        f" sync at full power; the light's toll is {stops(toll)}. Where does the face land from flash"
        " alone?",
        -(toll + shorter),
        ((toll, "hss_power"),),
        f"The toll takes {stops(toll)}, and the shorter time takes {stops(shorter)} more.",
        seen={"shutter": "focal_plane", "mode": "hss", "time": fast, "sync": sync, "toll": plain(toll)},
    )


def _time_dims_flash(chance: Random) -> DrillQuestionInStops:
    slow, fast = _time(chance, 30, 60), _time(chance, 125, 250)
    by = _stops_between(slow, fast)
    return DrillQuestionInStops(
        f"Sync speed is 1/250 s. You go from {slow} s to {fast} s and change nothing else. What does the"
        " flash on the face do?",
        0.0,
        ((-by, "time_dims_flash"),),
        f"Within sync the whole pop falls into the opening at {slow} s as at {fast} s. Daylight loses"
        f" {stops(by)}.",
        seen={"shutter": "focal_plane", "mode": "pop", "time": fast, "sync": "1/250"},
    )


def _iso_daylight(chance: Random) -> DrillQuestion:
    low, high = chance.choice([(100, 200), (100, 400), (200, 800), (400, 1600)])
    by = log2(high / low)
    return DrillQuestion(
        f"You go from ISO {low} to ISO {high}. What becomes brighter by {stops(by)}?",
        "daylight and flash alike",
        (
            ("daylight alone", "iso_daylight"),
            ("flash alone", None),
            ("neither: only the noise", None),
        ),
        "ISO and aperture move both. Time within sync moves daylight alone, power moves flash alone.",
    )


def _nd_daylight(chance: Random) -> DrillQuestionInStops:
    nd = chance.choice([2, 3, 4, 6])
    return DrillQuestionInStops(
        f"A picture is right. You screw on a {nd}-stop ND and change nothing else. Where does the flash"
        " on the face land?",
        -float(nd),
        ((0.0, "nd_daylight"),),
        f"Glass before the lens takes {stops(nd)} from everything. It lets you open the aperture at sync"
        " speed.",
    )


def _half_light(chance: Random) -> DrillQuestionInStops:
    near = chance.choice([1.0, 1.2, 1.5, 2.0])
    ratio = chance.choice([1.4, 2.0, 2.0, 2.8])
    far = round(near * ratio, 1)
    found = flash.by_distance(far) - flash.by_distance(near)
    return DrillQuestionInStops(
        f"A bare head {metres(near)} from the face goes back to {metres(far)}. What does the face lose?",
        found,
        ((found / 2, "half_light"),),
        f"Light falls with the square of the distance: 2·log2({plain(far)}/{plain(near)}) ="
        f" {stops(-found)}.",
    )


def _twice_as_far(chance: Random) -> DrillQuestion:
    energy = chance.choice([100, 200, 300, 400])
    more = chance.choice([2, 4])
    reach = chance.choice([2.0, 3.0, 4.0, 5.0])
    right, believed = reach * more**0.5, reach * more
    return DrillQuestion(
        f"A {energy} Ws head is enough at {metres(reach)}. How far is a {energy * more} Ws head of the"
        " same make enough?",
        metres(round(right, 1)),
        (
            (metres(believed), "twice_as_far"),
            (metres(round(reach * 1.1, 1)), None),
            (metres(round(reach * more * 1.5, 1)), None),
        ),
        f"×{more} in energy is {stops(log2(more))}; in distance that is ×{plain(more**0.5)}.",
    )


def _large_is_soft(chance: Random) -> DrillQuestion:
    large, small = chance.choice([(1.8, 0.6), (1.2, 0.6), (1.5, 0.4), (1.2, 0.4)])
    near = chance.choice([0.8, 1.0, 1.2])
    far = round(near * large / small * chance.choice([1.6, 2.0]), 1)
    angles = [
        flash.angular_size(distance, across / 2) for across, distance in ((large, far), (small, near))
    ]
    return DrillQuestion(
        f"A box {metres(large)} across stands {metres(far)} away, one {metres(small)} across"
        f" {metres(near)} away. Whose shadows are softer?",
        f"those of the {metres(small)} box",
        ((f"those of the {metres(large)} box", "large_is_soft"), ("both alike", None)),
        f"From the face the large one is {angles[0]:.0f}° across, the small one {angles[1]:.0f}°.",
    )


def _closer_brightens(chance: Random) -> DrillQuestionInStops:
    far = chance.choice([2.0, 2.8, 4.0])
    near = far / chance.choice([1.6, 2.0])
    behind = chance.choice([2.0, 3.0, 4.0])
    before, after = (
        flash.by_distance(distance + behind) - flash.by_distance(distance) for distance in (far, near)
    )
    found = after - before
    return DrillQuestionInStops(
        f"A wall {metres(behind)} behind the face. The light comes from {metres(far)} to {metres(near)},"
        " and its power goes down until the face is as before. What does its light on the wall do?",
        found,
        ((-found, "closer_brightens"),),
        f"The wall was {plain((far + behind) / far)} times as far as the face, and is"
        f" {plain((near + behind) / near)} times as far now: {stops(-found)} less.",
    )


def _weak_flash_bar(chance: Random) -> DrillQuestion:
    sync, time = chance.choice(
        [("1/200", "1/400"), ("1/250", "1/500"), ("1/200", "1/500"), ("1/160", "1/320")]
    )
    inside = InsideShutter("focal_plane", _seconds(time), "pop", _seconds(sync))
    lit = inside.opening.lit_part
    return DrillQuestion(
        f"Sync speed {sync} s, shot at {time} s, high-speed sync off. The lower {percent(1 - lit)} of"
        " the frame has no flash, the rest is right. What mends it?",
        f"a time of {sync} s or longer, or high-speed sync",
        (("more power", "weak_flash_bar"), ("a wider aperture", None), ("the light closer", None)),
        "The rows at the foot were closed again when the pop began: no power reaches them.",
        seen={"shutter": "focal_plane", "mode": "pop", "time": time, "sync": sync},
    )


def _hss_freezes(chance: Random) -> DrillQuestion:
    time, sync = _time(chance, 1000, 4000), chance.choice(["1/200", "1/250"])
    inside = InsideShutter("focal_plane", _seconds(time), "hss", _seconds(sync))
    lasts = 1000 * inside.opening.whole_s
    return DrillQuestion(
        f"A leap in high-speed sync at {time} s. What freezes it?",
        f"the shutter: every row is open for {time} s",
        (
            ("the flash: its light is shorter than that", "hss_freezes"),
            ("the aperture", None),
            ("ISO", None),
        ),
        f"The light of high-speed sync lasts {plain(lasts)} ms here, as long as the slit travels.",
        seen={"shutter": "focal_plane", "mode": "hss", "time": time, "sync": sync},
    )


def _leaf_is_free(chance: Random) -> DrillQuestionInStops:
    kind = chance.choice(["cut", "voltage"])
    time = chance.choice(["1/1000", "1/1600", "1/2000"])
    pulse = PULSE_CLASSES[kind].pulse
    inside = InsideShutter("leaf", _seconds(time), "pop", _seconds(time), pulse=pulse)
    return DrillQuestionInStops(
        f"A leaf shutter at {time} s and a head whose pop at full power has a t0.1 of"
        f" 1/{round(1 / pulse.t01_s(1.0))} s. What does the flash lose to the shutter?",
        inside.best,
        ((0.0, "leaf_is_free"),),
        f"The blades let through {percent(inside.share(0.5))} of the pop; the rest falls on them.",
        seen={"shutter": "leaf", "mode": "pop", "time": time, "sync": time, "head": kind},
    )


def _screen_shows(chance: Random) -> DrillQuestion:
    place, looks, wrong = chance.choice(
        [
            ("At night", "bright", "one stop over"),
            ("In the midday sun", "dark", "one stop under"),
        ]
    )
    return DrillQuestion(
        f"{place} the picture on the screen looks {looks}. The histogram ends well inside on the right,"
        " and the spot on the face reads 0.0. What is the exposure?",
        "right",
        (
            (wrong, "screen_shows"),
            ("two stops off: both ends are empty", None),
            ("nobody can say without a meter", None),
        ),
        "The eye adapts to what is around the screen. Tones in the file do not change with it.",
    )


def _auto_knows(chance: Random) -> DrillQuestionInStops:
    name = chance.choice(["white dress", "dark suit"])
    part = chance.choice([0.6, 0.7, 0.8])
    usual = CLOTHES["mid-tone clothes"].reflectance
    reflectance = part * CLOTHES[name].reflectance + (1 - part) * usual
    return DrillQuestionInStops(
        f"Automatic flash was right for mid-tone clothes. Now a {name} fills {percent(part)} of what it"
        " measures. Where does the face land against before?",
        log2(usual / reflectance),
        ((0.0, "auto_knows"),),
        f"It brings the mean to the same tone; the mean throws back {percent(reflectance)} now, against"
        f" {percent(usual)}.",
    )


def _half_power(chance: Random) -> DrillQuestionInStops:
    start = chance.choice([1, 2, 4, 8])
    times = chance.choice([2, 2, 4])
    words = {2: "half of that", 4: "a quarter of that"}[times]
    found = -log2(times)
    return DrillQuestionInStops(
        f"A light at 1/{start} is turned down to {words}. What does the face lose?",
        found,
        ((found / 2, "half_power"),),
        f"Half the power is one stop, so 1/{start} to 1/{start * times} is {stops(-found)}.",
    )


def _distance_and_power(chance: Random) -> DrillQuestion:
    """The light comes to half the distance, two stops more: the power that keeps the face."""
    far = chance.choice([2.0, 2.4, 2.8, 3.2, 4.0])
    down = chance.choice([0, 1, 2])
    near = far / 2
    back = -2 * (flash.by_distance(far) - flash.by_distance(near)) / 2

    def power(by: float) -> str:
        return power_label(down + by, "fraction", 10.0)

    return DrillQuestion(
        f"A bare head is right at {power(0)} from {metres(far)}. It comes to {metres(near)}. Which power"
        " keeps the face as it was?",
        power(back),
        (
            (power(back / 2), "half_light"),
            (power(2 * back), "half_power"),
            (power(0), None),
        ),
        f"Half the distance is {stops(back)} more, and half the power is one stop less: {power(0)}"
        f" becomes {power(back)}.",
    )


def _past_sync(chance: Random) -> DrillQuestion:
    """What high-speed sync is for: two beliefs at once."""
    time, sync = _time(chance, 1000, 2000), chance.choice(["1/200", "1/250"])
    toll = chance.choice([1.1, 2.0, 2.4])
    costs = toll + log2(_seconds(sync) / _seconds(time))
    inside = InsideShutter("focal_plane", _seconds(time), "hss", _seconds(sync))
    return DrillQuestion(
        f"A child leaps in the sun. You leave {sync} s, the sync speed, for {time} s in high-speed sync;"
        f" the light's toll is {stops(toll)}. What do you get?",
        f"a leap that the shutter freezes, with {stops(costs)} less flash",
        (
            ("a leap that the shutter freezes, with more flash", "hss_power"),
            (f"a leap that the short flash freezes, with {stops(costs)} less of it", "hss_freezes"),
            ("the same blur, with less flash", None),
        ),
        f"Every row is open for {time} s, and that freezes. The light lasts"
        f" {plain(1000 * inside.opening.whole_s)} ms, as long as the slit travels; its price is the toll"
        " and a stop for each stop of time.",
        seen={"shutter": "focal_plane", "mode": "hss", "time": time, "sync": sync, "toll": plain(toll)},
    )


def _reflected_reading(chance: Random) -> DrillQuestionInStops:
    """What a meter that looks at something says of the light on it."""
    words, reflectance = chance.choice(
        [
            ("a white dress", CLOTHES["white dress"].reflectance),
            ("a dark suit", CLOTHES["dark suit"].reflectance),
            ("an 18 % grey card", 0.18),
        ]
    )
    found = -log2(reflectance / MID_TONE_REFLECTANCE)
    return DrillQuestionInStops(
        f"The camera's spot meter looks at {words} and sets the exposure by that alone. Where does a"
        " mid-tone in the same light land?",
        found,
        ((0.0, "auto_knows"),),
        zero="at mid-tone, as it should",
        why=f"A meter brings what it sees to mid-tone, {percent(MID_TONE_REFLECTANCE)}. What throws back"
        f" {percent(reflectance)} comes out there too, and everything else {stops(abs(found))}"
        f" {'darker' if found < 0 else 'brighter'} than meant.",
    )


def _share_reading(chance: Random) -> DrillQuestionInStops:
    """What a flash share says of flash against daylight."""
    part = chance.choice([0.2, 1 / 3, 2 / 3, 0.8, 0.9])
    found = log2(part / (1 - part))
    return DrillQuestionInStops(
        f"The meter at the face says {percent(part)} flash. How far is the flash over (+) or under (−)"
        " the daylight there?",
        found,
        (),
        f"Flash is {percent(part)} of all light and daylight {percent(1 - part)},"
        f" {plain(part / (1 - part), 2)} times as much: {signed_stops(found)}.",
    )


QUESTIONS = (
    Drill("hss_power", "Power past sync", ("hss_power",), _hss_power),
    Drill("time_dims_flash", "Time within sync", ("time_dims_flash",), _time_dims_flash),
    Drill("iso_daylight", "ISO", ("iso_daylight",), _iso_daylight),
    Drill("nd_daylight", "ND filter", ("nd_daylight",), _nd_daylight),
    Drill("half_light", "Distance", ("half_light",), _half_light),
    Drill("twice_as_far", "Watt-seconds", ("twice_as_far",), _twice_as_far),
    Drill("large_is_soft", "Softness", ("large_is_soft",), _large_is_soft),
    Drill("closer_brightens", "Closer", ("closer_brightens",), _closer_brightens),
    Drill("weak_flash_bar", "A black bar", ("weak_flash_bar",), _weak_flash_bar),
    Drill("hss_freezes", "What freezes", ("hss_freezes",), _hss_freezes),
    Drill("leaf_is_free", "Leaf shutter", ("leaf_is_free",), _leaf_is_free),
    Drill("screen_shows", "The screen", ("screen_shows",), _screen_shows),
    Drill("auto_knows", "Automatic flash", ("auto_knows",), _auto_knows),
    Drill("half_power", "Power", ("half_power",), _half_power),
    Drill("distance_and_power", "Distance and power", ("half_light", "half_power"), _distance_and_power),
    Drill("past_sync", "What high-speed sync gives", ("hss_power", "hss_freezes"), _past_sync),
    Drill("reflected_reading", "What a reading says", ("auto_knows",), _reflected_reading),
    Drill("share_reading", "What a share says", ("half_power",), _share_reading),
)
"""Every question in words."""
