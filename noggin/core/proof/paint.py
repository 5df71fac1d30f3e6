"""What surfaces throw back: skin, lips, eyes, hair and cloth, red, green and blue, from where they are on a
figure. Luminance of skin and main cloth is the reflectance that the set-up's people have."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.colour import LUMINANCE
from noggin.core.proof.mesh import CLOTH, EYES, FLOWERS, HAIR, SHIRT, SHOES, SKIN, Bytes, Floats, floats

Colour = tuple[float, float, float]
Values = NDArray[np.floating[Any]]


def _of(reflectance: float, hue: Colour) -> Floats:
    """A colour of a hue whose luminance is a reflectance."""
    found = floats(hue)
    scaled: Floats = found * np.float32(reflectance / float(found @ LUMINANCE))
    return scaled


SKIN_HUES: dict[str, Colour] = {
    "fair": (1.36, 0.94, 0.76),
    "medium": (1.40, 0.93, 0.68),
    "brown": (1.46, 0.92, 0.60),
    "deep": (1.46, 0.92, 0.64),
}
"""Hue of skin, linear. Invented by eye."""

HAIR_COLOURS: dict[str, Colour] = {
    "fair": (0.115, 0.066, 0.034),
    "medium": (0.052, 0.032, 0.021),
    "brown": (0.024, 0.017, 0.014),
    "deep": (0.017, 0.013, 0.012),
}
"""Hair that goes with it. Invented by eye."""


@dataclass(frozen=True)
class Features:
    """Where a figure's features are, in metres in its own frame: height of the parting of its lips, by
    how much they are higher and wider than those below, and of its brows' arch, how thick and how strong
    they are."""

    lips_y: float
    lips_high: float
    lips_wide: float
    brow_y: float
    brow_thick: float
    brow_strong: float


FEATURES = {
    "gown": Features(-0.0630, 1.25, 1.16, 0.0180, 0.0024, 0.80),
    "suit": Features(-0.0765, 1.40, 1.23, 0.0165, 0.0034, 0.85),
    "child": Features(-0.0560, 1.05, 0.95, 0.0190, 0.0022, 0.55),
}
"""Of each figure, read off its mesh."""

SHORTS_FROM_Y = -0.635
"""Height under which a child's clothes are shorts, which are darker than the shirt."""

PARTING_Y = -0.0638
"""Height of the parting of the lips that are described below."""

SHIRT_COLOUR = floats((0.60, 0.60, 0.60))

CLOTH_HUES: dict[str, Colour] = {
    "white dress": (1.01, 1.0, 0.97),
    "dark suit": (0.92, 0.98, 1.18),
    "mid-tone clothes": (0.86, 1.0, 1.22),
}


@dataclass(frozen=True)
class Looks:
    """How one person looks: skin (a key of SKINS), its reflectance, clothes (a key of CLOTHES) and their
    reflectance, and which figure they are ("gown", "suit" or "child")."""

    skin: str
    skin_reflectance: float
    wears: str
    wears_reflectance: float
    figure: str


def _edge(value: Values, at: float | Values, width: float) -> Floats:
    """0 under a value, 1 over it, going over smoothly."""
    part = np.clip((value - at) / width + 0.5, 0, 1)
    found: Floats = (part * part * (3 - 2 * part)).astype(np.float32)
    return found


def _bump(value: Values, middle: float | Values, wide: float) -> Floats:
    found: Floats = np.exp(-(((value - middle) / wide) ** 2)).astype(np.float32)
    return found


def _over(under: Floats, colour: Floats, cover: Values) -> Floats:
    return floats(under + (colour - under) * cover[:, None])


def paint(part: Bytes, own: Floats, looks: Looks) -> Floats:
    """What each point of one figure throws back, n×3 linear, from its part and its place (n×3 metres, in
    the figure's own frame)."""
    found = np.zeros((len(part), 3), np.float32)
    for kind, painted in (
        (SKIN, _skin),
        (EYES, _eyes),
        (HAIR, _hair),
        (CLOTH, _cloth),
        (SHIRT, _shirt),
        (FLOWERS, _flowers),
        (SHOES, _shoes),
    ):
        some = part == kind
        if some.any():
            found[some] = painted(own[some], looks)
    return found


def _skin(own: Floats, looks: Looks) -> Floats:
    x, y, z = np.abs(own[:, 0]), own[:, 1], own[:, 2]
    base = _of(looks.skin_reflectance, SKIN_HUES[looks.skin])
    found = np.tile(base, (len(own), 1))
    front = _edge(z, 0.035, 0.03)
    warm = base * floats((1.05, 0.86, 0.84))
    blush = _bump(x, 0.040, 0.020) * _bump(y, -0.030, 0.018) * front
    blush = np.maximum(blush, 0.8 * _bump(x, 0, 0.012) * _bump(y, -0.034, 0.010) * _edge(z, 0.085, 0.01))
    found = _over(found, warm, 0.75 * blush)
    slight, features = looks.figure != "suit", FEATURES[looks.figure]
    mouth_x, mouth_y = x / features.lips_wide, PARTING_Y + (y - features.lips_y) / features.lips_high
    lip = base * floats((0.90, 0.56, 0.56) if slight else (0.93, 0.74, 0.71))
    bow = 0.0016 * np.cos(np.clip(mouth_x / 0.0065, 0, np.pi))
    taper = np.sqrt(np.clip(1 - (mouth_x / 0.0215) ** 2, 0, 1))
    upper = _edge(-0.0572 + bow * 0.5 - mouth_y, 0.0046 * (1 - taper), 0.0018)
    lips = (
        upper * _edge(mouth_y, -0.0730 + 0.0072 * (1 - taper), 0.0026) * _edge(0.0215 - mouth_x, 0, 0.004)
    )
    found = _over(found, lip, (0.9 if slight else 0.7) * lips * _edge(z, 0.055, 0.01))
    hair = floats(HAIR_COLOURS[looks.skin])
    arch = features.brow_y + 0.0030 * np.sin(np.clip((x - 0.012) / 0.036, 0, 1) * np.pi * 0.8)
    brow = _bump(y, arch, features.brow_thick) * _edge(x, 0.0125, 0.006) * _edge(0.050 - x, 0, 0.014)
    found = _over(found, hair, features.brow_strong * brow * _edge(z, 0.03, 0.02))
    if not slight:
        beard = _edge(-0.045 - y, 0, 0.03) * _edge(y, -0.125, 0.02) * _edge(z, -0.01, 0.05)
        found = _over(found, found * floats((0.86, 0.90, 0.94)), 0.5 * beard * (1 - lips))
    return found


def _eyes(own: Floats, looks: Looks) -> Floats:
    x = np.abs(own[:, 0])
    white = floats((0.46, 0.43, 0.41))
    out = np.hypot(x - 0.0312, own[:, 1] - 0.0006)
    iris = floats((0.095, 0.060, 0.036)) if looks.skin != "fair" else floats((0.075, 0.090, 0.095))
    found = np.tile(white, (len(own), 1))
    found = _over(found, white * np.float32(0.55), _edge(own[:, 1], 0.0020, 0.003))
    found = _over(found, iris, _edge(-out, -0.0059, 0.0010))
    found = _over(found, iris * np.float32(0.35), _bump(out, 0.0057, 0.0007))
    return _over(found, floats((0.012, 0.011, 0.011)), _edge(-out, -0.0027, 0.0008))


def _hair(own: Floats, looks: Looks) -> Floats:
    around = np.arctan2(own[:, 0] - 0.012, own[:, 2] + 0.16)
    strands = np.sin(310 * around + 22 * own[:, 1]) + np.sin(173 * around - 15 * own[:, 1] + 1.3)
    found: Floats = floats(HAIR_COLOURS[looks.skin]) * (1 + 0.22 * strands[:, None]).astype(np.float32)
    return found


def _cloth(own: Floats, looks: Looks) -> Floats:
    base = _of(looks.wears_reflectance, CLOTH_HUES[looks.wears])
    found = np.tile(base, (len(own), 1))
    if looks.figure == "gown":
        x, y = own[:, 0], own[:, 1]
        sash = _edge(y, -0.555, 0.004) * _edge(-y, 0.520, 0.004)
        found = _over(found, base * np.float32(0.80), sash)
        lace = (np.sin(x * 420) * np.sin(y * 420) > 0.45) & (y > -0.52)
        return np.where(lace[:, None], found * np.float32(0.93), found)
    if looks.figure == "child":
        below = _edge(SHORTS_FROM_Y - own[:, 1], 0, 0.004)
        return _over(found, base * np.float32(0.55), below)
    x, y, z = np.abs(own[:, 0]), own[:, 1], own[:, 2]
    front = _edge(z, 0.02, 0.02)
    down = np.clip((-0.20 - y) / 0.31, 0, 1)
    lapel = 0.052 + 0.040 * np.sin(np.pi * np.minimum(down * 1.25 + 0.12, 1)) * (1 - 0.55 * down)
    inside = (
        _edge(lapel * (1 - 0.75 * down**2) - x, 0, 0.003)
        * _edge(down, 0.02, 0.02)
        * _edge(1 - down, 0.02, 0.02)
    )
    found = _over(found, SHIRT_COLOUR, inside * front)
    edge = _bump(lapel * (1 - 0.75 * down**2) - x, 0, 0.0022) * (down > 0.05) * (down < 0.97)
    found = _over(found, base * np.float32(0.35), 0.8 * edge * front)
    seam = _bump(x, 0, 0.0016) * _edge(-0.51 - y, 0, 0.01) * _edge(y, -0.90, 0.01)
    found = _over(found, base * np.float32(0.3), 0.8 * seam * front)
    pocket = _bump(y, -0.395 + 0.15 * (own[:, 0] - 0.10), 0.006) * _edge(
        0.034 - np.abs(own[:, 0] - 0.110), 0, 0.003
    )
    return _over(found, floats((0.55, 0.55, 0.54)), 0.9 * pocket * front)


def _shirt(own: Floats, _: Looks) -> Floats:
    x, y, z = np.abs(own[:, 0]), own[:, 1], own[:, 2]
    found = np.tile(SHIRT_COLOUR, (len(own), 1))
    wide = np.where(y > -0.232, 0.014, 0.0085 + 0.075 * np.clip(-0.235 - y, 0, 0.3))
    tie = (x < wide) & (y < -0.205) & (z > 0.03)
    return np.where(tie[:, None], floats((0.060, 0.020, 0.034)), found)


def _flowers(own: Floats, _: Looks) -> Floats:
    petals = np.sin(own[:, 0] * 150) * np.sin(own[:, 1] * 140 + 1) + 0.3 * np.sin(own[:, 2] * 210)
    rose, white = floats((0.55, 0.27, 0.27)), floats((0.68, 0.63, 0.55))
    found: Floats = np.where((petals > 0.1)[:, None], rose, white)
    leaf: NDArray[np.bool_] = petals < -0.75
    return np.where(leaf[:, None], floats((0.06, 0.11, 0.04)), found)


def _shoes(own: Floats, _: Looks) -> Floats:
    return np.tile(floats((0.02, 0.018, 0.017)), (len(own), 1))
