"""What ranks a way lower although the picture can be made that way: facts, not words."""

from collections.abc import Iterator
from dataclasses import dataclass
from math import inf, log2

from noggin.core import limits
from noggin.core.physics import optics
from noggin.core.physics.optics import Focus
from noggin.core.planning.lighting import Lighting
from noggin.core.planning.motion import motion
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops

DRAWBACK_KINDS = {
    "movement": "the subject smears: `got` is the smear in circles of confusion, `wanted` is one of them",
    "hand": "the time is slower than the hand's: seconds it has, seconds the hand holds",
    "blur": "the background blurs too little: % of the frame's width",
    "focus": "a face is out of focus: `got` are near and far of what is sharp, `wanted` those of the"
    " faces, m",
    "battery": "a battery ends too soon: frames it gives, frames that are wanted",
}
"""Everything that ranks a way lower, and what its figures then say."""

OUT_OF_FOCUS: Stops = 1.0
"""What a face out of focus counts, whatever else. Common practice, no source."""

WORST: Stops = 20.0
"""What a drawback counts at most: that of a wish without any answer, such as blur of a background at the
subject's own distance."""


@dataclass(frozen=True)
class Drawback:
    """One thing that ranks a way lower: its kind (a key of DRAWBACK_KINDS), how much it counts in stops (0
    to WORST), what this way gives and what is wanted, each as nearest and farthest where it is a span, the
    light it is about, and the time as it is dialled."""

    kind: str
    stops: Stops
    got: tuple[float, float | None]
    wanted: tuple[float, float | None]
    light: str = ""
    dialled: str = ""

    def __post_init__(self) -> None:
        limits.check_choice("kind", self.kind, DRAWBACK_KINDS)


def drawbacks(setup: SetUp, lighting: Lighting, focus: Focus) -> Iterator[Drawback]:
    """Everything that ranks a way lower, of what the set-up gives a figure for."""
    if setup.scene.subject_speed_m_s:
        moving = motion(setup, lighting)
        if not moving.frozen_by:
            yield Drawback("movement", _short_of(moving.points, 1.0), (moving.points, None), (1.0, None))
    hand, time = setup.hand_stops, lighting.settings.shutter
    if hand is not None and time.stops < hand - TOLERANCE:
        by = min(hand - time.stops, WORST)
        yield Drawback("hand", by, (time.value, None), (2**-hand, None), dialled=time.label)
    wish = setup.intent.blur_least_pct
    if wish is not None and focus.background_blur_pct < wish:
        blur = focus.background_blur_pct
        yield Drawback("blur", _short_of(wish, blur), (blur, None), (wish, None))
    faces = setup.scene.faces_m
    if faces and not optics.all_sharp(faces, focus.near_m, focus.far_m):
        span = (min(faces), max(faces))
        yield Drawback("focus", OUT_OF_FOCUS, (focus.near_m, focus.far_m), span)
    if setup.intent.frames is not None:
        yield from _ends_too_soon(lighting, setup.intent.frames)


def _ends_too_soon(lighting: Lighting, frames: int) -> Iterator[Drawback]:
    for firing in lighting.firings:
        battery = firing.light.battery
        if battery and firing.power:
            got = battery.frames(firing.power, firing.hss)
            if got < frames:
                by = _short_of(frames, got)
                yield Drawback("battery", by, (got, None), (frames, None), firing.light.says)


def _short_of(wanted: float, got: float) -> Stops:
    return min(log2(wanted / got) if got else inf, WORST)
