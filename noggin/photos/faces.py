"""Faces seen from the front, found by a cascade of local binary patterns (Viola and Jones 2001; Liao and
others 2007), whose trained figures are vendored. What it looks at is a small picture, and all places in it
are judged at once: a library that does this weighs 160 MB."""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np
from defusedxml import ElementTree
from numpy.typing import NDArray
from PIL import Image

TRAINED = "lbpcascade_frontalface_opencv.xml"

GROWS = 1.15
"""Each size that is looked for is so many times the one before. From memory."""

STRIDES_PX = ((2.0, 1), (0.0, 2))
"""From one place to the next, pixels of the picture as it was made smaller, by how much it was at least."""

SEEN_LEAST = 3
"""A face is seen at so many neighbouring places and sizes; what is seen fewer times is none. From
memory."""

NEAR = 0.2
"""Two that differ by less than so much of their size are the same face. From memory."""

Box = tuple[float, float, float, float]
"""Left, top, width and height, pixels."""

Grey = NDArray[np.uint8]


@dataclass(frozen=True)
class Weak:
    """One question: what lies around one ninth of a rectangle (its corner, and width and height of a
    ninth), which patterns say yes (a flag for each of 256), and what yes and no count."""

    corner: tuple[int, int, int, int]
    votes: NDArray[np.float32]


@dataclass(frozen=True)
class Cascade:
    """Stages of questions, each with the least sum that goes on to the next, for boxes of one size."""

    size: int
    stages: tuple[tuple[float, tuple[Weak, ...]], ...]


@cache
def cascade() -> Cascade:
    """The trained figures."""
    file = resources.files("noggin.photos").joinpath("vendor", TRAINED)
    root = ElementTree.fromstring(file.read_bytes()).find("cascade")
    rects = []
    for rect in root.iterfind("features/_/rect"):
        left, top, width, height = (int(part) for part in (rect.text or "").split())
        rects.append((left, top, width, height))
    stages = []
    for stage in root.iterfind("stages/_"):
        weak = []
        for tree in stage.iterfind("weakClassifiers/_"):
            _, _, feature, *words = (int(part) for part in tree.findtext("internalNodes").split())
            yes, no = (float(part) for part in tree.findtext("leafValues").split())
            bits = np.unpackbits(np.array(words, dtype="<i4").view(np.uint8), bitorder="little")
            weak.append(Weak(rects[feature], np.where(bits, yes, no).astype(np.float32)))
        stages.append((float(stage.findtext("stageThreshold")), tuple(weak)))
    return Cascade(int(root.findtext("width")), tuple(stages))


def find_faces(grey: Grey, least_px: float) -> list[Box]:
    """Faces in a picture (rows × columns, 0 to 255) that are at least so many pixels wide, each the mean of
    the places where it was seen."""
    seen = _seen_in(_boxes(grey, least_px))
    return [_mean(group) for group in _grouped(seen) if len(group) >= SEEN_LEAST]


@dataclass(frozen=True)
class Boxes:
    """Places that are looked at, in the picture at several sizes: `sums` over what lies above and left of
    each pixel, all sizes one after another; and for each box where it begins in those, how many of them
    make a row there, its left and top (`places`, four rows), and by how much the picture was made
    smaller."""

    sums: NDArray[np.int32]
    places: NDArray[np.int64]
    scale: NDArray[np.float64]

    def only(self, some: NDArray[np.bool_]) -> "Boxes":
        """Some of them."""
        return Boxes(self.sums, self.places[:, some], self.scale[some])


def _boxes(grey: Grey, least_px: float) -> Boxes:
    sums, begins = [np.zeros(0, np.int32)], 0
    places, scales = [np.zeros((4, 0), np.int64)], [np.zeros(0)]
    for scale, small in _sizes(grey, least_px):
        own = np.zeros((small.shape[0] + 1, small.shape[1] + 1), np.int32)
        own[1:, 1:] = small.astype(np.int32).cumsum(0).cumsum(1)
        stride = next(px for least, px in STRIDES_PX if scale >= least)
        rows, columns = (side - cascade().size + 1 for side in small.shape)
        top, left = (side.ravel() for side in np.mgrid[0:rows:stride, 0:columns:stride])
        row = np.full(len(top), own.shape[1])
        places.append(np.stack([begins + top * row + left, row, left, top]))
        scales.append(np.full(len(top), scale))
        sums.append(own.ravel())
        begins += own.size
    return Boxes(np.concatenate(sums), np.concatenate(places, axis=1), np.concatenate(scales))


def _sizes(grey: Grey, least_px: float) -> Iterator[tuple[float, Grey]]:
    """The picture made smaller and smaller, as long as a box fits, and by how much."""
    size = cascade().size
    scale = max(1.0, least_px / size)
    while min(grey.shape) / scale >= size:
        width, height = round(grey.shape[1] / scale), round(grey.shape[0] / scale)
        small = Image.fromarray(grey).resize((width, height), Image.Resampling.BILINEAR)
        yield scale, np.asarray(small)
        scale *= GROWS


def _seen_in(boxes: Boxes) -> list[Box]:
    """Those that pass every stage, in pixels of the picture."""
    for least, questions in cascade().stages:
        total = np.zeros(len(boxes.scale), np.float32)
        for weak in questions:
            total += weak.votes[_patterns(boxes, weak.corner)]
        boxes = boxes.only(total >= least)
    sides = cascade().size * boxes.scale
    left, top = boxes.places[2:] * boxes.scale
    return list(zip(left.tolist(), top.tolist(), sides.tolist(), sides.tolist(), strict=True))


AROUND = ((0, 0), (1, 0), (2, 0), (2, 1), (2, 2), (1, 2), (0, 2), (0, 1))
"""The ninths around the middle one, clockwise from the upper left, from the highest bit of a pattern on."""


def _patterns(boxes: Boxes, corner: tuple[int, int, int, int]) -> NDArray[np.int32]:
    """For each box, a bit for each ninth around the middle one that is as bright as that or brighter."""
    left, top, width, height = corner
    at, row = boxes.places[:2]
    starts = [at + (top + j * height) * row + left for j in range(4)]
    grid = [[boxes.sums[start + i * width] for i in range(4)] for start in starts]

    def ninth(i: int, j: int) -> NDArray[np.int32]:
        found: NDArray[np.int32] = grid[j + 1][i + 1] - grid[j][i + 1] - grid[j + 1][i] + grid[j][i]
        return found

    middle, found = ninth(1, 1), np.zeros(len(at), np.int32)
    for bit, (i, j) in enumerate(AROUND):
        found |= (ninth(i, j) >= middle).astype(np.int32) << (7 - bit)
    return found


def _grouped(seen: list[Box]) -> list[list[Box]]:
    """Those that are near each other, together."""
    groups: list[list[Box]] = []
    for box in seen:
        for group in groups:
            if any(_near(box, other) for other in group):
                group.append(box)
                break
        else:
            groups.append([box])
    return groups


def _near(one: Box, other: Box) -> bool:
    most = NEAR * min(one[2], other[2])
    return max(abs(a - b) for a, b in zip(one[:2], other[:2], strict=True)) <= most and max(
        one[2], other[2]
    ) <= min(one[2], other[2]) * (1 + NEAR)


def _mean(group: list[Box]) -> Box:
    left, top, width, height = (sum(parts) / len(group) for parts in zip(*group, strict=True))
    return left, top, width, height
