"""The place behind the people: flat tones with the blur of the optics. Invented; its mean tone, and that of
the spot where it is read, is the level that the plan gives the background."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.colour import LUMINANCE
from noggin.core.proof.mesh import Floats, floats
from noggin.core.proof.stage import ProofStage

NEAR_M = 25.0
"""A background nearer than this is a wall; a farther one is a landscape."""

WALL_M = 2.4
"""Height of the wall."""

TREES_FROM = -0.025
"""Slope from the lens from which on trees close off a landscape without a sky."""

READ_AT = ((0.92, 0.55), (0.08, 0.55), (0.92, 0.70), (0.08, 0.70), (0.5, 0.30), (0.5, 0.12))
"""Where the background is read, parts of the frame: the first that nobody stands in."""

STONE, LEAVES, LAND, HILL, DOME = 1.0, 0.42, 0.72, 0.55, 1.6
"""Tones of the place, of its mean. Invented with it."""

LAMP_RADIUS_M, LAMPS_APART_M, LAMPS_HIGH_M, LAMPS_SAG_M = 0.05, 0.9, 3.1, 0.7
LAMPS_SPAN_M, LAMPS_WIDE_M, LAMPS_MOST_M = 7.2, 21.6, 40.0
"""Lanterns on strings between posts, where lamps light the background: their radius, how far apart and
how high, by how much a string sags and how long it is, how far it goes on to both sides, and how far away
it is at most. Invented."""

GLOWS_TO = 0.20
"""Slope from the lens at which a glow of the horizon has fallen to a third. By eye."""

Mask = NDArray[np.bool_]


@dataclass(frozen=True, eq=False)
class Backdrop:
    """Tones of the place (3×h×w, 1 is the background's level), and how much of each pixel is sky (h×w);
    `read_at` is the row and column at which the background is read, where there is such a place; `lamps`
    how much of each pixel lamps are (h×w, None: there are none); `low` how near the horizon each is (h×w,
    None: no sky is in it); `is_measured`: the tones are those of a photograph, whose background is 1
    where it was read."""

    land: Floats
    sky: Floats
    read_at: tuple[int, int] | None = None
    lamps: Floats | None = None
    is_measured: bool = False
    low: Floats | None = None

    def level_in(self, colour: Floats) -> float:
        """What the tone of the place comes to where it is read, in light of a colour of luminance 1."""
        if self.read_at is None or self.is_measured:
            return 1.0
        row, column = self.read_at
        return max(float(LUMINANCE @ (self.land[:, row, column] * colour)), 1e-3)


def backdrop(stage: ProofStage, seen: Floats | None = None) -> Backdrop:
    """What is behind the people of a stage: what is `seen` of a photograph (h×w×3), or an invented
    place."""
    view = stage.view
    if seen is not None:
        no_sky = np.zeros((view.height, view.width), np.float32)
        return Backdrop(np.ascontiguousarray(seen.transpose(2, 0, 1)), no_sky, is_measured=True)
    rays = view.rays()
    slope = floats(rays[..., 1] / np.maximum(np.hypot(rays[..., 0], rays[..., 2]), 1e-6))
    across = floats(np.arctan2(rays[..., 0], -rays[..., 2]))
    land = np.ones((view.height, view.width, 3), np.float32)
    near = stage.background_m < NEAR_M
    sky = _wall(stage, land, slope, across) if near else _landscape(land, slope, across)
    if not stage.has_sky:
        leaves = LEAVES * (1 + 0.45 * _leaves(across * 30, slope * 30))
        # No sky in the picture: trees close it off, from the meadow up.
        closed = sky if near else slope > TREES_FROM
        land[closed] = leaves[closed][:, None] * floats((0.86, 1.05, 0.62))
        sky = np.zeros_like(sky)
    lamps = _lamps(stage) if stage.has_lamps else None
    low = floats(np.exp(-((np.maximum(slope, 0) / GLOWS_TO) ** 2))) if stage.has_sky else None
    return Backdrop(
        np.ascontiguousarray(land.transpose(2, 0, 1)), sky.astype(np.float32), lamps=lamps, low=low
    )


def _lamps(stage: ProofStage) -> Floats:
    """Strings of lanterns, each as much of its pixels as it covers, however small it is."""
    view = stage.view
    away = min(stage.background_m, LAMPS_MOST_M)
    x = np.arange(-LAMPS_WIDE_M, LAMPS_WIDE_M, LAMPS_APART_M) + LAMPS_APART_M / 3
    height = LAMPS_HIGH_M - LAMPS_SAG_M * (1 - ((x % LAMPS_SPAN_M) / LAMPS_SPAN_M * 2 - 1) ** 2)
    places = np.stack([x, height, np.full_like(x, view.at[2] - away)], 1)
    across, down, depth = view.project(floats(places))
    found = np.zeros((view.height, view.width), np.float32)
    rows, columns = np.mgrid[: view.height, : view.width].astype(np.float32) + np.float32(0.5)
    for column, row, far in zip(across, down, depth, strict=True):
        radius = view.focal_px * LAMP_RADIUS_M / far
        edge = max(radius, np.float32(0.5))
        disc = np.clip(edge + 0.5 - np.hypot(columns - column, rows - row), 0, 1)
        total = disc.sum()
        if total > 0:
            found += disc * np.float32(np.pi * radius**2 / max(total, np.pi * edge**2 * 0.5))
    return found


def _leaves(x: Floats, y: Floats) -> Floats:
    """Something like leaves, −1 to 1: waves in eight directions that do not repeat."""
    found = np.zeros_like(x)
    for index in range(8):
        turn, wave = 2.4 * index + 0.3, 2.1 * 1.37**index
        found += np.sin(wave * (x * np.cos(turn) + y * np.sin(turn)) + 1.7 * index) / (1 + 0.25 * index)
    result: Floats = np.clip(found / 3, -1, 1).astype(np.float32)
    return result


def _wall(stage: ProofStage, land: Floats, slope: Floats, across: Floats) -> Mask:
    """A wall of rubble with trees over it."""
    away = stage.background_m / np.cos(across)
    height = stage.view.at[1] + slope * away
    along = np.tan(across) * stage.background_m
    course = np.floor(height / 0.22)
    stones = np.sin(along * 7.3 + course * 2.1) * np.sin(along * 2.9 + course * 5.7)
    joints = (np.abs(height / 0.22 - course - 0.5) > 0.45) | (
        np.abs(np.sin(along * 5.1 + course * 1.9)) < 0.05
    )
    tone = STONE * (1 + 0.12 * stones) * np.where(joints, 0.72, 1.0)
    land[:] = tone[..., None] * floats((1.04, 1.0, 0.90))
    crown = (
        WALL_M
        + 0.55
        + 0.35 * np.sin(along * 0.9)
        + 0.22 * np.sin(along * 2.3 + 1)
        + 0.08 * np.sin(along * 9)
    )
    trees = height > WALL_M
    leaves = LEAVES * (1 + 0.45 * _leaves(floats(along * 1.6), floats(height * 1.6)))
    land[trees] = leaves[trees][:, None] * floats((0.86, 1.06, 0.62))
    floor = height < 0
    land[floor] = floats((0.80, 0.84, 0.62))
    return height > crown


def _landscape(land: Floats, slope: Floats, across: Floats) -> Mask:
    """Hills with a dome on one, trees before them, and meadows."""
    ridge = (
        0.055 + 0.022 * np.sin(across * 5 + 0.6) + 0.010 * np.sin(across * 13) + 0.003 * np.sin(across * 41)
    )
    far = 0.085 + 0.020 * np.sin(across * 3 + 2.0)
    out = np.hypot((across + 0.115) / 0.030, (slope - 0.100) / 0.034)
    dome = (out < 1) & (slope > 0.098)
    drum = (np.abs(across + 0.115) < 0.031) & (slope < 0.100) & (slope > 0.05)
    sky = (slope > ridge) & (slope > far) & ~dome & ~drum
    land[:] = floats((0.80, 0.86, 0.60)) * np.float32(LAND / 0.8)
    land[slope > -0.02] = floats((HILL, HILL * 1.08, HILL * 0.78))
    land[(slope > ridge) & (slope <= far)] = floats((HILL * 1.15, HILL * 1.25, HILL * 1.35))
    land[dome | drum] = floats((DOME, DOME, DOME * 0.96))
    slit = (np.abs(across + 0.107) < 0.0035) & dome
    land[slit] = np.float32(0.3)
    bushes = np.zeros(slope.shape, bool)
    for place, wide, tall in (
        (-0.33, 0.10, 0.05),
        (-0.20, 0.05, 0.03),
        (0.19, 0.08, 0.045),
        (0.30, 0.07, 0.06),
        (0.04, 0.05, 0.02),
    ):
        bushes |= np.hypot((across - place) / wide, (slope + 0.015) / tall) < 1 + 0.08 * np.sin(
            across * 160
        )
    leaves = LEAVES * (1 + 0.4 * _leaves(across * 45, slope * 45))
    land[bushes] = leaves[bushes][:, None] * floats((0.84, 1.06, 0.58))
    wall = (slope < -0.060) & (slope > -0.092)
    land[wall] = floats((1.02, 0.99, 0.90)) * np.float32(STONE)
    found: Mask = sky & ~bushes
    return found


DISC_MOST_PX = 24
"""A disc that is wider is drawn in a smaller picture, which is made larger again."""


def blurred(picture: Floats, diameter_px: float) -> Floats:
    """A picture (h×w or h×w×c) out of focus: each point a disc, by the thin lens. Edges go on outside the
    frame as they are at it."""
    if diameter_px < 1.2:
        return picture
    shrink = max(1, int(diameter_px // DISC_MOST_PX))
    height, width = picture.shape[:2]
    if shrink > 1:
        small = _shrunk(picture, shrink)
        return _grown(blurred(small, diameter_px / shrink), height, width)
    out = int(np.ceil(diameter_px / 2)) + 1
    y, x = np.mgrid[-out : out + 1, -out : out + 1].astype(np.float32)
    kernel = np.clip(diameter_px / 2 + 0.5 - np.hypot(x, y), 0, 1)
    kernel /= kernel.sum()
    result: Floats = np.maximum(_spread(picture, kernel), 0)
    return result


def _spread(picture: Floats, kernel: Floats) -> Floats:
    """Each point of a picture as the kernel (square, symmetric), by the convolution theorem."""
    out = kernel.shape[0] // 2
    padded = np.pad(picture, [(out, out), (out, out), *[(0, 0)] * (picture.ndim - 2)], mode="edge")
    size = [_quick_size(side) for side in padded.shape[:2]]
    waves = np.fft.rfft2(kernel, size)
    waves = waves.reshape(*waves.shape, *[1] * (picture.ndim - 2))
    waves = np.fft.rfft2(padded, size, axes=(0, 1)) * waves
    height, width = picture.shape[:2]
    found = np.fft.irfft2(waves, size, axes=(0, 1))[2 * out : 2 * out + height, 2 * out : 2 * out + width]
    return floats(found)


def _quick_size(least: int) -> int:
    """The next size that a Fourier transform does quickly: of twos, threes and fives."""
    size = least
    while _rest(size) > 1:
        size += 1
    return size


def _rest(size: int) -> int:
    for prime in (2, 3, 5):
        while size % prime == 0:
            size //= prime
    return size


def _shrunk(picture: Floats, by: int) -> Floats:
    height, width = (-(-side // by) * by for side in picture.shape[:2])
    pads = [(0, height - picture.shape[0]), (0, width - picture.shape[1]), *[(0, 0)] * (picture.ndim - 2)]
    padded = np.pad(picture, pads, mode="edge")
    found: Floats = (
        padded.reshape(height // by, by, width // by, by, *picture.shape[2:])
        .mean((1, 3))
        .astype(np.float32)
    )
    return found


def _grown(picture: Floats, height: int, width: int) -> Floats:
    """A small picture made larger, straight lines between its points."""
    found = picture
    for axis, size in ((0, height), (1, width)):
        have = found.shape[axis]
        at = np.clip((np.arange(size, dtype=np.float32) + 0.5) * have / size - 0.5, 0, have - 1)
        base = np.minimum(at.astype(int), max(have - 2, 0))
        part = (
            (at - base)
            .astype(np.float32)
            .reshape([-1 if index == axis else 1 for index in range(found.ndim)])
        )
        after = np.minimum(base + 1, have - 1)
        found = found.take(base, axis) * (1 - part) + found.take(after, axis) * part
    result: Floats = found.astype(np.float32)
    return result
