"""From unit pictures and amounts to a picture: a weighted sum in linear light, then the camera's
clipping and the screen's curve."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cache

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.appearance import MID_GREY
from noggin.core.physics.colour import LUMINANCE
from noggin.core.physics.srgb import srgb
from noggin.core.proof.backdrop import READ_AT, Backdrop, blurred
from noggin.core.proof.mesh import Floats, floats
from noggin.core.proof.mixture import Mixture, MixturePart
from noggin.core.proof.unit_pictures import UnitPicture
from noggin.core.units import Stops

SMEAR_LEAST_PX = 0.8
"""Movement that smears less than this many pixels is not drawn."""

BLURS_FROM_PX = 1.2
"""Blur of people under this many pixels is not drawn."""

STRIPES, STRIPE_WIDE = 8, 3
"""Diagonal stripes over what clips: one every so many pixels, so many wide."""

STRIPE_COLOUR = (196, 24, 60)

Image = NDArray[np.uint8]


@dataclass(eq=False)
class Plates:
    """What a picture is made of at one size: unit pictures by the names of their lights, how much of each
    pixel people cover and ground and walls beside them, what people throw back, the place behind, and (made
    when it is asked for) how much of each pixel every one of the people covers."""

    units: Mapping[str, UnitPicture]
    cover: Floats
    place_cover: Floats | None
    albedo: Floats
    backdrop: Backdrop
    shares: Callable[[], Floats]
    _blurs: dict[float, Backdrop] = field(default_factory=dict)

    @property
    def shape(self) -> tuple[int, int]:
        """Height and width in pixels."""
        height, width = self.cover.shape
        return height, width

    def behind(self, blur: float) -> Backdrop:
        """The place behind, out of focus by a disc of this part of the frame's width."""
        wanted = round(blur, 3)
        if wanted not in self._blurs:
            if len(self._blurs) >= 6:
                self._blurs.pop(next(iter(self._blurs)))
            sharp = self.backdrop
            lamps = () if sharp.lamps is None else (sharp.lamps[None],)
            both = np.concatenate([sharp.land, sharp.sky[None], *lamps])
            soft = blurred(both.transpose(1, 2, 0), wanted * self.shape[1]).transpose(2, 0, 1)
            land, sky = np.ascontiguousarray(soft[:3]), np.clip(soft[3], 0, 1)
            shine = soft[4] if lamps else None
            read_at = self.read_at(sky, lamps=shine)
            self._blurs[wanted] = Backdrop(land, sky, read_at, shine, sharp.is_measured, sharp.low)
        return self._blurs[wanted]

    def read_at(
        self, sky: Floats, of_sky: bool = False, lamps: Floats | None = None
    ) -> tuple[int, int] | None:
        """Row and column at which the background (or the sky) is read: where nobody stands and nothing else
        mixes in; None where there is no such place."""
        free = self.cover == 0
        if self.place_cover is not None:
            free &= self.place_cover == 0
        free &= sky > 0.999 if of_sky else sky < 0.001
        if lamps is not None:
            free &= lamps < 1e-4
        height, width = self.shape
        for x, y in READ_AT:
            at = int(y * height), int(x * width)
            if free[at]:
                return at
        places = np.argwhere(free)
        if not len(places):
            return None
        row, column = places[len(places) // 2]
        return int(row), int(column)


@dataclass(frozen=True, eq=False)
class Picture:
    """A picture in linear light (3×h×w, 0.18 at mid-tone) and the level over which the sensor is full."""

    linear: Floats
    full: Stops

    @property
    def clipped(self) -> NDArray[np.bool_]:
        """Where a channel has lost its detail to white."""
        red, green, blue = self.linear
        found: NDArray[np.bool_] = np.maximum(np.maximum(red, green), blue) >= MID_GREY * 2**self.full
        return found

    @property
    def luminance(self) -> Floats:
        """Its luminance, h×w linear."""
        found: Floats = np.tensordot(LUMINANCE, self.linear, 1)
        return found

    @property
    def levels(self) -> Floats:
        """Tone of every pixel in stops from mid-tone, h×w."""
        light = np.maximum(self.luminance, np.float32(MID_GREY * 2**-12))
        found: Floats = np.log2(light / np.float32(MID_GREY))
        return found

    def image(self, stripes: bool = True) -> Image:
        """The picture as sRGB, h×w×3 of 0 to 255, what clips under stripes."""
        index = self.linear * np.float32(65535)
        np.clip(index, 0, 65535, out=index)
        found = np.stack([_curve().take(channel) for channel in index.astype(np.uint16)], -1)
        if stripes:
            clipped = self.clipped
            if clipped.any():
                rows, columns = np.nonzero(clipped)
                struck = (rows + columns) % STRIPES < STRIPE_WIDE
                found[rows[struck], columns[struck]] = STRIPE_COLOUR
        return found

    def histogram(self) -> NDArray[np.int64]:
        """How many pixels have each tone of 0 to 255."""
        light = np.clip(self.luminance, 0, 1)
        return np.bincount(_curve().take((light * 65535).astype(np.uint16)).ravel(), minlength=256)


@cache
def _curve() -> Image:
    """Linear light in 65,536 steps as sRGB."""
    return (srgb(np.linspace(0, 1, 65536)) * 255 + 0.5).astype(np.uint8)


@dataclass(frozen=True)
class Card:
    """A grey card in the picture: the row and column of its middle, and half its side in pixels."""

    at: tuple[int, int]
    half: int


def develop(plates: Plates, mixture: Mixture, card: Card | None = None) -> Picture:
    """The picture that a mixture gives."""
    behind = plates.behind(mixture.blur)
    background = np.zeros(3, np.float32)
    for lit in mixture.behind:
        colour = floats(lit.colour)
        background += colour * np.float32(lit.amount / behind.level_in(colour))
    amount, hue = mixture.sky or (0.0, (1.0, 1.0, 1.0))
    sky, land = floats(hue) * np.float32(amount * MID_GREY), background * np.float32(MID_GREY)
    linear, seen = np.empty_like(behind.land), 1 - behind.sky
    for channel in range(3):
        np.multiply(behind.land[channel], land[channel], out=linear[channel])
        linear[channel] *= seen
        linear[channel] += sky[channel] * behind.sky
        if mixture.glow is not None and behind.low is not None:
            # As bright as the sky is, in the colour of the hour.
            strength, glow = mixture.glow
            more = np.float32(strength * (glow[channel] * amount * MID_GREY - sky[channel]))
            linear[channel] += more * behind.low * behind.sky
    if behind.lamps is not None and mixture.lamps is not None:
        shine, warm = mixture.lamps
        linear += behind.lamps * (floats(warm) * np.float32(shine * MID_GREY))[:, None, None]
    if plates.place_cover is not None:
        linear *= 1 - plates.place_cover
        for part in mixture.parts:
            place = plates.units[part.name].place
            if place is not None:
                _add(linear, place, part)
    cover, people = _people(plates, mixture)
    linear *= 1 - cover
    linear += people
    if card is not None:
        _draw(linear, card, mixture.parts)
    return Picture(linear, mixture.full)


def _summed(parts: list[tuple[float, tuple[float, float, float]]]) -> Floats:
    found = np.zeros(3, np.float32)
    for amount, colour in parts:
        found += np.float32(amount) * floats(colour)
    return found


def _add(linear: Floats, unit: Floats, part: MixturePart) -> None:
    """Add a part of a picture, by channel, and by row where rows differ."""
    height = linear.shape[1]
    for channel in range(3):
        factor = np.float32(part.amount * part.colour[channel])
        if part.rows is None:
            linear[channel] += unit[channel] * factor
        else:
            rows = floats(part.rows)[(np.arange(height) * len(part.rows)) // height]
            linear[channel] += unit[channel] * (rows * factor)[:, None]


def _people(plates: Plates, mixture: Mixture) -> tuple[Floats, Floats]:
    """How much people cover, and their light. Movement smears what shines all the time that the shutter is
    open, and leaves a flash's part sharp over it."""
    height, width = plates.shape
    smear = round(mixture.smear * width) if mixture.smear * width >= SMEAR_LEAST_PX else 0
    moving = np.zeros((3, height, width), np.float32)
    frozen = moving if not smear else np.zeros_like(moving)
    for part in mixture.parts:
        _add(frozen if part.frozen else moving, plates.units[part.name].people, part)
    cover = plates.cover
    if any(blur * width >= BLURS_FROM_PX for blur, _ in mixture.people_blurs):
        shares = plates.shares()
        cover, moving = _focused(shares, mixture, cover, moving)
        if smear:
            _, frozen = _focused(shares, mixture, plates.cover, frozen)
    if not smear:
        return cover, moving
    return _smeared(cover[None], smear)[0], _smeared(moving, smear) + frozen


def _focused(shares: Floats, mixture: Mixture, cover: Floats, people: Floats) -> tuple[Floats, Floats]:
    """How much people cover, and their light (weighted with that), everybody as sharp as the lens draws
    them: from the farthest on, each over those behind. What somebody nearer hides is taken to go on as it
    is beside them."""
    width = cover.shape[1]
    part = people / np.maximum(cover, np.float32(1e-6))
    done, found, free = np.zeros_like(cover), np.zeros_like(people), 1 - cover
    for blur, members in _by_depth(mixture, width):
        own = shares[list(members)].sum(0)
        box = _around(own, blur)
        if box is None:
            continue
        layer = np.concatenate([part[:, *box] * own[box], own[None, *box]])
        if blur:
            # Only over what is not hidden: those farther away, the place, and themselves.
            seen = np.minimum(free[box] + own[box], 1)
            both = np.ascontiguousarray(np.concatenate([layer, seen[None]]).transpose(1, 2, 0))
            soft = blurred(both, blur).transpose(2, 0, 1)
            layer = soft[:4] / np.maximum(soft[4], np.float32(1e-3))
        covers = np.minimum(layer[3], 1)
        found[:, *box] = found[:, *box] * (1 - covers) + layer[:3]
        done[box] = done[box] * (1 - covers) + covers
        free = free + own
    return done, found


def _around(own: Floats, blur: float) -> tuple[slice, slice] | None:
    """The part of a picture that somebody's blur reaches; None where they are not in it."""
    room = int(blur) + 2
    found = []
    for axis in (1, 0):
        held = np.nonzero(own.any(axis))[0]
        if not len(held):
            return None
        found.append(slice(max(int(held[0]) - room, 0), int(held[-1]) + room + 1))
    return found[0], found[1]


def _by_depth(mixture: Mixture, width: int) -> list[tuple[float, tuple[int, ...]]]:
    """People from the farthest to the nearest, with the blur of each in pixels: neighbours in depth who are
    sharp together, everybody else alone."""
    order = sorted(range(len(mixture.people_blurs)), key=lambda index: -mixture.people_blurs[index][1])
    found: list[tuple[float, tuple[int, ...]]] = []
    for index in order:
        blur = mixture.people_blurs[index][0] * width
        blur = blur if blur >= BLURS_FROM_PX else 0.0
        if not blur and found and not found[-1][0]:
            found[-1] = (0.0, (*found[-1][1], index))
        else:
            found.append((blur, (index,)))
    return found


def _smeared(picture: Floats, length: int) -> Floats:
    """A picture that moved across the frame by a length in pixels while it was taken."""
    before, after = length // 2 + 1, length - length // 2
    padded = np.pad(picture, ((0, 0), (0, 0), (before, after)), mode="edge")
    total = np.cumsum(padded, axis=2, dtype=np.float64)
    found: Floats = ((total[..., length:] - total[..., :-length]) / length).astype(np.float32)
    return found[..., : picture.shape[2]]


def _draw(linear: Floats, card: Card, parts: tuple[MixturePart, ...]) -> None:
    row, column = card.at
    colour = _summed([(part.amount * part.card, part.colour) for part in parts])
    rows = slice(max(row - card.half, 0), row + card.half + 1)
    columns = slice(max(column - card.half, 0), column + card.half + 1)
    linear[:, rows, columns] = (colour * np.float32(MID_GREY))[:, None, None]
