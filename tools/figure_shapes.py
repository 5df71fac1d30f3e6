"""What the people in a proof wear, their hair and what they hold: distance fields of smoothly joined
ellipsoids and capsules.

Metres; x to the figure's left hand as the camera sees it from the front, y up from between the eyes, z out
of the face. A field gives the distance of points to a part's surface, negative inside it. Proportions from
memory of drawing handbooks: a head 0.23 m high, seven and a half of them to a person.
"""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from noggin.core.proof.mesh import CLOTH, FLOWERS, HAIR, SHIRT, SHOES, floats

Points = NDArray[np.float32]
Field = NDArray[np.float32]
Shape = Callable[[Points], Field]
Triple = tuple[float, float, float]

GROUND_Y = -1.57
"""The ground, under eyes that are 1.57 m high."""


def union(first: Field, other: Field, soft: float) -> Field:
    """Both, joined over a width of `soft` metres."""
    part = np.clip(0.5 + 0.5 * (other - first) / soft, 0, 1)
    return other + (first - other) * part - soft * part * (1 - part)


def cut(first: Field, other: Field, soft: float) -> Field:
    """The first without the other, its edge rounded."""
    return -union(-first, other, soft)


def ellipsoid(points: Points, centre: Triple, radii: Triple) -> Field:
    """Distance to an ellipsoid, good near its surface."""
    near = (points - floats(centre)) / floats(radii)
    size = np.sqrt((near * near).sum(-1))
    slope = near / floats(radii)
    return size * (size - 1) / (np.sqrt((slope * slope).sum(-1)) + 1e-6)


def capsule(points: Points, start: Triple, end: Triple, radius: float, last: float | None = None) -> Field:
    """Distance to a rod with round ends, from one radius to another."""
    from_start, along = points - floats(start), floats(end) - floats(start)
    part = np.clip((from_start @ along) / (along @ along), 0, 1)[..., None]
    wide = radius if last is None else radius + (last - radius) * part[..., 0]
    return np.sqrt(((from_start - along * part) ** 2).sum(-1)) - wide


def mirrored(points: Points) -> Points:
    """Both sides as one."""
    return np.concatenate([np.abs(points[..., :1]), points[..., 1:]], -1)


def bride_dress(points: Points) -> Field:
    """A bodice with an edge like a heart, and a skirt to the ground that falls in folds."""
    m, x, y, z = mirrored(points), points[..., 0], points[..., 1], points[..., 2]
    bodice = union(
        ellipsoid(points, (0, -0.400, -0.022), (0.150, 0.170, 0.104)),
        ellipsoid(m, (0.062, -0.385, 0.050), (0.064, 0.062, 0.050)),
        0.045,
    )
    bodice = union(bodice, ellipsoid(points, (0, -0.545, -0.022), (0.126, 0.120, 0.096)), 0.060)
    edge = (
        -0.338 + 0.022 * np.exp(-(((np.abs(x) - 0.070) / 0.040) ** 2)) - 0.010 * np.exp(-((x / 0.022) ** 2))
    )
    bodice = np.maximum(bodice, y - edge)
    down = np.clip((-0.56 - y) / 1.01, 0, 1)
    around = np.arctan2(x, z + 0.03)
    folds = 0.020 * down * np.cos(11 * around + 1.2 * np.sin(3 * around)) + 0.009 * down * np.cos(
        23 * around + 1.0
    )
    wide = 0.128 + 0.055 * np.sqrt(down) + 0.170 * down + folds
    skirt = (np.sqrt(x * x + ((z + 0.025) * 1.08) ** 2) - wide) * 0.90
    skirt = np.maximum(skirt, np.maximum(y + 0.52, GROUND_Y + 0.004 - y))
    found = union(bodice, skirt, 0.035)
    creases = 0.0012 * np.sin(60 * y + 26 * np.abs(x)) * np.clip((y + 0.62) / 0.05, 0, 1)
    return found + creases


LOCKS = (
    (17, 0.0016, 0.4, 7),
    (29, 0.0013, 2.1, -9),
    (47, 0.0009, 4.0, 12),
    (83, 0.0006, 1.1, -14),
    (139, 0.0004, 5.2, 17),
    (211, 0.0003, 3.3, -21),
)
"""Waves that make locks of hair and strands of locks: how many around, how high (metres), where they begin,
how much they turn on the way down. By eye."""


def locks(points: Points, across: float) -> Field:
    """How far hair stands out in locks and strands, which come from a parting at `across`."""
    x, y = points[..., 0] - across, points[..., 1]
    around = np.arctan2(x, points[..., 2] + 0.16) + 0.06 * np.sin(21 * y + 1.0) + 0.03 * np.sin(55 * y)
    waves = [high * np.sin(often * around + start + turn * y) for often, high, start, turn in LOCKS]
    parting = 0.0035 * np.exp(-((x / 0.0045) ** 2)) * (y > 0.05) * (points[..., 2] > -0.06)
    found: Field = np.sum(waves, axis=0) - parting
    return found


def uneven(points: Points) -> Field:
    """How a hairline is nowhere even, metres."""
    x, y = points[..., 0], points[..., 1]
    return (
        0.0022 * np.sin(170 * x + 40 * y) + 0.0016 * np.sin(97 * x - 130 * y + 2) + 0.001 * np.sin(310 * x)
    )


def bride_hair(points: Points) -> Field:
    """Taken back from the face, falling behind the shoulders."""
    top = ellipsoid(points, (0, 0.040, -0.016), (0.0880, 0.0880, 0.1130))
    fall = union(
        ellipsoid(points, (0, -0.060, -0.088), (0.086, 0.150, 0.050)),
        ellipsoid(points, (0, -0.190, -0.098), (0.088, 0.150, 0.036)),
        0.05,
    )
    found = union(top, fall, 0.035)
    lock = capsule(mirrored(points), (0.070, 0.030, 0.004), (0.083, -0.150, -0.050), 0.015, 0.020)
    found = union(found, lock, 0.022)
    face = ellipsoid(points, (0.010, -0.034, 0.092), (0.0700, 0.1030, 0.0960))
    found = cut(found - 0.8 * locks(points, 0.012), face + uneven(points), 0.012)
    ends = -0.300 + 0.012 * np.sin(90 * points[..., 0]) + 0.006 * np.sin(230 * points[..., 0] + 1)
    return np.maximum(found, ends - points[..., 1])


def bride_flowers(points: Points) -> Field:
    """A round bunch held before the waist."""
    found = ellipsoid(points, (0, -0.600, 0.185), (0.085, 0.075, 0.065))
    turn = np.arctan2(points[..., 0], points[..., 1] + 0.60)
    out = np.hypot(points[..., 0], points[..., 1] + 0.60)
    return found + 0.011 * np.cos(7 * turn) * np.cos(95 * out) * 1.0


def groom_suit(points: Points) -> Field:
    """A jacket with its sleeves, and trousers."""
    m, y = mirrored(points), points[..., 1]
    chest = union(
        ellipsoid(points, (0, -0.420, -0.036), (0.200, 0.215, 0.128)),
        capsule(m, (0, -0.232, -0.048), (0.172, -0.272, -0.048), 0.058, 0.060),
        0.070,
    )
    body = union(chest, ellipsoid(points, (0, -0.660, -0.026), (0.172, 0.200, 0.122)), 0.080)
    skirt = np.maximum(ellipsoid(points, (0, -0.800, -0.030), (0.192, 0.200, 0.130)), -0.905 - y)
    body = union(body, skirt, 0.030)
    sleeve = union(
        capsule(m, (0.205, -0.300, -0.048), (0.258, -0.565, -0.040), 0.062, 0.052),
        capsule(m, (0.258, -0.565, -0.040), (0.262, -0.800, 0.018), 0.052, 0.038),
        0.020,
    )
    sleeve = np.maximum(sleeve, -0.800 - y)
    body = union(body, sleeve, 0.026)
    opening = capsule(points, (0, -0.180, 0.110), (0, -0.560, 0.150), 0.066, 0.026)
    body = cut(body, opening, 0.006)
    folds = 0.0016 * np.sin(70 * y + 24 * m[..., 0]) * np.exp(-(((y + 0.56) / 0.09) ** 2))
    leg = capsule(m, (0.088, -0.860, -0.030), (0.100, -1.515, -0.030), 0.086, 0.060)
    return np.minimum(body + folds, leg)


def groom_shirt(points: Points) -> Field:
    """What the jacket leaves free: a shirt with its collar, and a tie."""
    m, y = mirrored(points), points[..., 1]
    front = ellipsoid(points, (0, -0.420, -0.036), (0.150, 0.210, 0.122))
    collar = capsule(m, (0.000, -0.165, -0.094), (0.060, -0.178, -0.030), 0.016)
    collar = union(collar, capsule(m, (0.060, -0.178, -0.030), (0.014, -0.212, 0.050), 0.012), 0.006)
    cuff = np.maximum(capsule(m, (0.262, -0.78, 0.014), (0.263, -0.815, 0.022), 0.034), -0.818 - y)
    tie = capsule(points, (0, -0.215, 0.056), (0, -0.228, 0.060), 0.013, 0.011)
    tie = union(tie, capsule(points, (0, -0.235, 0.056), (0, -0.540, 0.088), 0.010, 0.026), 0.006)
    return np.minimum(union(np.minimum(front, collar), tie, 0.004), cuff)


def groom_hair(points: Points) -> Field:
    """Cut short at the sides, longer on top and brushed over from a parting."""
    found = union(
        ellipsoid(points, (0, 0.034, -0.022), (0.0825, 0.0800, 0.1120)),
        ellipsoid(points, (-0.006, 0.066, -0.004), (0.0700, 0.0660, 0.0980)),
        0.020,
    )
    found = union(found, ellipsoid(points, (-0.012, 0.098, 0.040), (0.0500, 0.0260, 0.0420)), 0.030)
    brow = ellipsoid(points, (0.006, -0.042, 0.090), (0.0740, 0.1080, 0.0920))
    found = cut(found - 0.7 * locks(points, 0.030), brow + uneven(points), 0.008)
    ears = ellipsoid(mirrored(points), (0.090, -0.072, 0.020), (0.046, 0.064, 0.080))
    return cut(found, ears + 0.6 * uneven(points), 0.008)


def child_hair(points: Points) -> Field:
    """Chin-long, with a fringe."""
    found = union(
        ellipsoid(points, (0, 0.044, -0.018), (0.0890, 0.0900, 0.1120)),
        ellipsoid(points, (0, -0.028, -0.056), (0.0860, 0.0900, 0.0640)),
        0.030,
    )
    face = ellipsoid(points, (0.0, -0.062, 0.092), (0.0690, 0.1080, 0.0900))
    found = cut(found - 0.8 * locks(points, -0.010), face + uneven(points), 0.010)
    ends = -0.098 + 0.008 * np.sin(90 * points[..., 0]) + 0.004 * np.sin(230 * points[..., 0] + 1)
    return np.maximum(found, ends - points[..., 1])


def groom_shoes(points: Points) -> Field:
    """A pair."""
    found = ellipsoid(mirrored(points), (0.104, -1.545, 0.045), (0.047, 0.044, 0.135))
    return np.maximum(found, GROUND_Y + 0.001 - points[..., 1])


Box = tuple[Triple, Triple]

SHAPES: dict[str, tuple[tuple[int, Shape, Box, float], ...]] = {
    "gown": (
        (HAIR, bride_hair, ((-0.12, -0.36, -0.17), (0.12, 0.155, 0.115)), 0.0032),
        (CLOTH, bride_dress, ((-0.22, -0.70, -0.17), (0.22, -0.50, 0.15)), 0.0080),
        (CLOTH, bride_dress, ((-0.46, -1.60, -0.46), (0.46, -0.645, 0.44)), 0.0140),
        (FLOWERS, bride_flowers, ((-0.12, -0.71, 0.10), (0.12, -0.49, 0.28)), 0.0060),
    ),
    "suit": (
        (HAIR, groom_hair, ((-0.11, -0.12, -0.16), (0.11, 0.160, 0.115)), 0.0030),
        (CLOTH, groom_suit, ((-0.34, -0.95, -0.20), (0.34, -0.15, 0.18)), 0.0090),
        (CLOTH, groom_suit, ((-0.24, -1.60, -0.16), (0.24, -0.90, 0.14)), 0.0140),
        (SHIRT, groom_shirt, ((-0.32, -0.84, -0.14), (0.32, -0.13, 0.14)), 0.0060),
        (SHOES, groom_shoes, ((-0.17, -1.58, -0.12), (0.17, -1.48, 0.20)), 0.0090),
    ),
    "child": ((HAIR, child_hair, ((-0.12, -0.13, -0.17), (0.12, 0.160, 0.115)), 0.0032),),
}
"""Every figure: its parts, each with its field, the box it is in, and how fine it is cut, metres."""
