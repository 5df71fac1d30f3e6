"""What ranks a way lower although the picture can be made that way: facts, not words."""

from collections.abc import Iterator
from dataclasses import dataclass

from noggin.core import limits
from noggin.core.physics import optics
from noggin.core.physics.optics import Focus
from noggin.core.planning.lighting import Lighting
from noggin.core.planning.motion import motion
from noggin.core.setup.setup import SetUp

DRAWBACK_KINDS = {
    "movement": "the subject smears: `got` is the smear in circles of confusion, `wanted` is one of them",
    "focus": "a face is out of focus: `got` are near and far of what is sharp, `wanted` those of the"
    " faces, m",
    "blur": "the background blurs too little: % of the frame's width",
    "battery": "a battery ends too soon: frames it gives, frames that are wanted",
}
"""Everything that ranks a way lower, and what its figures then say."""


@dataclass(frozen=True)
class Drawback:
    """One thing that ranks a way lower: its kind (a key of DRAWBACK_KINDS), what this way gives and what is
    wanted, each as nearest and farthest where it is a span, and the light it is about."""

    kind: str
    got: tuple[float, float | None]
    wanted: tuple[float, float | None]
    light: str = ""

    def __post_init__(self) -> None:
        limits.check_choice("kind", self.kind, DRAWBACK_KINDS)


def drawbacks(setup: SetUp, lighting: Lighting, focus: Focus) -> Iterator[Drawback]:
    """Everything that ranks a way lower."""
    if setup.scene.subject_speed_m_s:
        moving = motion(setup, lighting)
        if not moving.frozen_by:
            yield Drawback("movement", (moving.points, None), (1.0, None))
    faces = setup.scene.faces_m
    if faces and not optics.all_sharp(faces, focus.near_m, focus.far_m):
        yield Drawback("focus", (focus.near_m, focus.far_m), (min(faces), max(faces)))
    wish = setup.intent.blur_least_pct
    if wish is not None and focus.background_blur_pct < wish:
        yield Drawback("blur", (focus.background_blur_pct, None), (wish, None))
    if setup.intent.frames is not None:
        yield from _ends_too_soon(lighting, setup.intent.frames)


def _ends_too_soon(lighting: Lighting, frames: int) -> Iterator[Drawback]:
    for firing in lighting.firings:
        battery = firing.light.battery
        if battery and firing.power:
            got = battery.frames(firing.power, firing.hss)
            if got < frames:
                yield Drawback("battery", (got, None), (frames, None), firing.light.says)
