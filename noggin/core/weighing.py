"""What is weighed in the advice besides the preference."""

from collections.abc import Iterator

from noggin.core import optics
from noggin.core.lighting import Lighting
from noggin.core.motion import motion
from noggin.core.optics import Focus
from noggin.core.setup import SetUp
from noggin.core.wording import metres_span, number, plain

RULE = (
    "Ways that can be come before those that cannot. A way is put lower for each of these: the subject"
    " moves too fast for it, a face is out of focus, the background blurs less than wished, a battery"
    " ends before the frames are made. Among equals, reach first takes the greatest reserve and, within"
    " a third of a stop of it, the aperture nearest the wanted one and the fewest filters to carry;"
    " speed first the least to handle; clean glass first the fewest filters, then the nearest aperture."
)
"""The rule of the advice as it stands on the page."""


def drawbacks(setup: SetUp, lighting: Lighting, focus: Focus) -> Iterator[str]:
    """Why a way is put lower, one line each; see RULE."""
    if setup.scene.subject_speed_m_s:
        moving = motion(setup, lighting)
        if not moving.frozen_by:
            yield (
                f"a subject at {number(setup.scene.subject_speed_m_s, 1)} m/s smears over"
                f" {plain(moving.points)} points at {lighting.settings.shutter.label}"
            )
    faces = setup.scene.faces_m
    if faces and not optics.all_sharp(faces, focus.near_m, focus.far_m):
        yield (
            f"not every face is in focus: {metres_span(focus.near_m, focus.far_m)} is, they stand at"
            f" {metres_span(min(faces), max(faces))}"
        )
    wish = setup.intent.blur_least_pct
    if wish is not None and focus.background_blur_pct < wish:
        yield (
            f"the background blurs by {plain(focus.background_blur_pct)} % of the frame, at least"
            f" {plain(wish)} % is wished"
        )
    frames = setup.intent.frames
    if frames is not None:
        yield from _ends_too_soon(lighting, frames)


def _ends_too_soon(lighting: Lighting, frames: int) -> Iterator[str]:
    for firing in lighting.firings:
        battery = firing.light.battery
        if battery and firing.power:
            got = battery.frames(firing.power, firing.hss)
            if got < frames:
                yield f"the battery of {firing.light.says} gives {got} of {frames} frames"
