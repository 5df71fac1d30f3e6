"""A proof in words, for those who do not see it: the same levels, and the same light from the same
places."""

from collections.abc import Iterator

from noggin.core.advice.caution_conditions import without_hss, worst_droop
from noggin.core.advice.details import black_part, clipping_level, zones
from noggin.core.advice.layout_words import softness
from noggin.core.layout.findings import Standing
from noggin.core.physics.appearance import clips
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.core.wording import listed, percent, signed, stops


def from_where(off_deg: float) -> str:
    """Where a light comes from, as it is seen in the picture, by its angle off the lens.

    >>> from_where(-45), from_where(140), from_where(3), from_where(-170)
    ('from the left', 'from behind on the right', 'from the camera', 'from behind')
    """
    off = abs(off_deg)
    if off > 165:
        return "from behind"
    side = "left" if off_deg < 0 else "right"
    if off <= 8:
        return "from the camera"
    return f"from behind on the {side}" if off > 105 else f"from the {side}"


def proof_words(setup: SetUp, way: Way, standing: Standing) -> str:
    """What the proof of a way shows."""
    levels = way.lighting.levels
    said = [
        f"{way.label}: faces at {signed(levels.subject)}, {percent(way.lighting.flash_share)} of it flash"
    ]
    said += _lit(way, standing)
    background = f"background at {signed(levels.background)}"
    if way.focus.background_blur_pct >= 0.5:
        background += f", blurred over {way.focus.background_blur_pct:.1f}% of the frame's width"
    said.append(background)
    if levels.sky is not None:
        said.append(f"sky at {signed(levels.sky)}")
    said += _spoilt(setup, way)
    return f"{'; '.join(said)}."


def _lit(way: Way, standing: Standing) -> Iterator[str]:
    for name, firing in zip(standing.names, way.lighting.firings, strict=True):
        if firing.level is not None and firing.light.role != "background":
            where = from_where(standing.position(name).off_deg)
            yield f"{firing.light.role} {softness(standing.softness_deg(name))} {where}"
    sun = standing.under_sun
    if sun is not None and (way.lighting.levels.rim is not None or sun.on_faces):
        behind = abs(sun.sun.off_deg) < 90
        side = "left" if sun.sun.off_deg < 0 else "right"
        yield f"sun from {'behind on ' if behind else ''}the {side}"


def _spoilt(setup: SetUp, way: Way) -> Iterator[str]:
    full = clipping_level(setup, way)
    gone = [name for name, level in zones(setup, way).items() if clips(level, full)]
    if gone:
        yield f"clips: {listed(gone)}"
    black = black_part(setup, way)
    if black and without_hss(way):
        yield f"without high-speed sync the flash misses the lower {percent(black)}"
    droop = worst_droop(way)
    if droop:
        yield f"flash falls by {stops(droop)} toward the top of the frame"
