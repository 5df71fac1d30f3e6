"""Unit pictures: what one light alone, at a level of 0, makes of a stage. Light adds up, so that every
change of a dial is a weighted sum of them."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from math import dist

import numpy as np
from numpy.typing import NDArray

from noggin.core.physics.appearance import MID_GREY, MID_TONE_REFLECTANCE
from noggin.core.physics.colour import LUMINANCE
from noggin.core.proof.backdrop import Backdrop, backdrop
from noggin.core.proof.bounced import Patches
from noggin.core.proof.gloss import gloss
from noggin.core.proof.irradiance import (
    Casters,
    casters_of,
    from_source,
    open_sky,
    samples_of,
    sun_on_stage,
)
from noggin.core.proof.mesh import EYES, Bytes, Floats, Indices, Mesh, floats, stand, together
from noggin.core.proof.paint import paint
from noggin.core.proof.photographed import Photographs, place_seen, width_for
from noggin.core.proof.raster import Hits, rasterise
from noggin.core.proof.stage import Figures, ProofStage, StageLight, StageWall
from noggin.core.proof.view import CameraView
from noggin.core.units import Metres

OVERSAMPLED = 2
"""Edges of people are drawn so many times finer than the picture, each way, and averaged."""

GROUND_CELL_M: Metres = 0.07
AROUND_M: Metres = 3.2
"""Ground and walls are lit at points so far apart, up to so far around the people."""

FADES_OVER_M = (1.5, 9.0)
"""From so far behind the subject to so much farther the ground goes over into the background."""

GROUND_PATTERN_MOST = 3.0
"""A bright spot on a photograph's ground counts as so many times its mean at most."""

FEET_SHADE, FEET_M = 0.45, 0.34
"""What of the sky people keep off the ground at their feet, and how far around. By eye."""

SHEEN, CORNEA = 0.035, 9.0
"""What an eye mirrors of a light's face, and how bright that is. By eye."""


@dataclass(frozen=True, eq=False)
class UnitPicture:
    """What one light makes of people (already weighted with how much of each pixel they cover) and of
    ground and walls (None where none are in the picture), 3×h×w linear, 0.18 for a card at a level of 0."""

    people: Floats
    place: Floats | None

    @property
    def size(self) -> int:
        """Bytes that it takes."""
        return self.people.nbytes + (self.place.nbytes if self.place is not None else 0)


@dataclass(frozen=True, eq=False)
class _Seen:
    """What pixels see of the people: a pixel of the picture for each fine one, whom it sees, its weights on
    the people's vertices (positions in `vertices`), and what it throws back; and of those that see an eye,
    where they are and how they face; `vertex_parts` says what part of a figure each vertex is of."""

    pixels: Indices
    who: Bytes
    corners: Indices
    weights: Floats
    albedo: Floats
    vertices: Indices
    vertex_parts: Bytes
    eyes: Indices
    eye_places: Floats
    eye_normals: Floats


@dataclass(frozen=True, eq=False)
class _Plane:
    """A flat surface that pixels see: the points at which it is lit, and how pixels lie between them."""

    places: Floats
    normals: Floats
    shape: tuple[int, int]
    pixels: Indices
    at: Floats
    albedo: Floats
    cover: Floats


class UnitPictures:
    """The unit pictures of one stage; what does not depend on light is worked out once."""

    def __init__(self, stage: ProofStage, figures: Figures, photographs: Photographs | None = None) -> None:
        self.stage = stage
        self._figures, self._photographs = figures, photographs
        view = stage.view
        self.width, self.height = view.width, view.height

    @cached_property
    def mesh(self) -> Mesh:
        """Everybody where they stand."""
        version = "fine" if self.stage.fine else "coarse"
        return together(
            tuple(
                stand(self._figures(person.looks.figure, version), index, person.eyes, person.turn_deg)
                for index, person in enumerate(self.stage.people)
            )
        )

    @cached_property
    def casters(self) -> Casters:
        """Everybody as what casts shadows."""
        return casters_of(self.mesh, self.stage.fine, self.stage.walls)

    def _hits(self) -> Hits:
        view, by = self.stage.view, OVERSAMPLED
        return rasterise(
            self.mesh, CameraView(view.at, view.tilt, view.focal_px * by, view.width * by, view.height * by)
        )

    @cached_property
    def _seen(self) -> _Seen:
        mesh, hits, fine_width = self.mesh, self._hits(), self.width * OVERSAMPLED
        rows, columns = np.divmod(hits.pixels, fine_width)
        corners = mesh.triangles[hits.triangles]
        used = np.zeros(len(mesh.own), bool)
        used[corners] = True
        vertices, positions = np.nonzero(used)[0], np.cumsum(used) - 1
        own = _mixed(mesh.own, corners, hits.weights)
        part, who = mesh.part[hits.triangles], mesh.who[hits.triangles]
        albedo = np.zeros((len(part), 3), np.float32)
        for index, person in enumerate(self.stage.people):
            some = who == index
            albedo[some] = paint(part[some], own[some], person.looks)
        eyes = np.nonzero(part == EYES)[0].astype(np.int32)
        parts = np.zeros(len(mesh.own), np.uint8)
        parts[corners] = part[:, None]
        return _Seen(
            ((rows // OVERSAMPLED) * self.width + columns // OVERSAMPLED).astype(np.int32),
            who,
            positions.astype(np.int32)[corners],
            hits.weights,
            albedo,
            vertices.astype(np.int32),
            parts[vertices],
            eyes,
            _mixed(mesh.places, corners[eyes], hits.weights[eyes]),
            _mixed(mesh.normals, corners[eyes], hits.weights[eyes]),
        )

    @cached_property
    def cover(self) -> Floats:
        """How much of each pixel people cover, h×w from 0 to 1."""
        counts = np.bincount(self._seen.pixels, minlength=self.width * self.height)
        found: Floats = (counts / OVERSAMPLED**2).astype(np.float32).reshape(self.height, self.width)
        return found

    @cached_property
    def shares(self) -> Floats:
        """How much of each pixel every one of the people covers, n×h×w."""
        size, seen = self.width * self.height, self._seen
        counts = [
            np.bincount(seen.pixels[seen.who == index], minlength=size)
            for index in range(len(self.stage.people))
        ]
        found = floats(np.stack(counts) / OVERSAMPLED**2)
        return found.reshape(-1, self.height, self.width)

    @cached_property
    def mean_albedo(self) -> Floats:
        """What people throw back in each pixel, 3×h×w, 0 where nobody is."""
        return floats(self._summed(self._seen.albedo) / np.maximum(self.cover, np.float32(1e-6)))

    @cached_property
    def backdrop(self) -> Backdrop:
        """The place behind them."""
        return backdrop(self.stage, self._photographed)

    @cached_property
    def _photographed(self) -> Floats | None:
        """What the camera sees of the photograph of the place, h×w×3, 1 being the background's level; None
        where there is none, or where it is not here."""
        photograph, view = self.stage.photograph, self.stage.view
        if photograph is None or self._photographs is None:
            return None
        found = self._photographs(photograph.sha256, width_for(view, photograph))
        return None if found is None else place_seen(view, photograph, found)

    def _summed(self, values: Floats) -> Floats:
        """Values of fine pixels (n×3) as a picture, each weighted with its share of the pixel."""
        size = self.width * self.height
        channels = [
            np.bincount(self._seen.pixels, weights=values[:, channel], minlength=size)
            for channel in range(3)
        ]
        found: Floats = (np.stack(channels) / OVERSAMPLED**2).astype(np.float32)
        return found.reshape(3, self.height, self.width)

    def of_source(self, source: StageLight) -> UnitPicture:
        """What a light makes, a card square to it at `source.square_at` having a level of 0."""
        samples = min(samples_of(source), self.stage.samples_most)
        places, normals = self._everywhere
        level = from_source(source, places, normals, self.casters, samples)
        if source.thrown_on:
            level += self._thrown(lambda at, facing: from_source(source, at, facing, self.casters, samples))
        toward = floats(source.at) - places[: len(self._seen.vertices)]
        return self._picture(level, source, toward)

    def of_sun(self, toward: Floats) -> UnitPicture:
        """What the sun makes, a surface square to it having a level of 0 where the face is."""
        places, normals = self._everywhere
        level = sun_on_stage(self.stage, toward, places, normals, self.casters)
        return self._picture(level, None, floats(toward)[None])

    def of_sun_thrown_on(self, toward: Floats) -> UnitPicture:
        """What walls and reflectors make of the same sun."""
        return self._picture(
            self._thrown(lambda at, facing: sun_on_stage(self.stage, toward, at, facing, self.casters))
        )

    def _thrown(self, light_on: Callable[[Floats, Floats], Floats]) -> Floats:
        """What everything has of light that surfaces throw on; `light_on` gives what falls on them."""
        found = np.zeros(len(self._everywhere[0]), np.float32)
        for patches, onto in self._carried:
            found += light_on(floats(patches.places), floats(patches.normals)) @ onto
        return found

    @cached_property
    def _carried(self) -> tuple[tuple[Patches, Floats], ...]:
        """Every surface's patches, and what each throws on everything, past the people."""
        places, normals = self._everywhere
        across, facing = np.ascontiguousarray(places.T), np.ascontiguousarray(normals.T)
        found = []
        for patches in self.stage.patches:
            onto = floats(patches.onto(places, normals))
            reaches: NDArray[np.bool_] = np.asarray(onto.any(1))
            patches, onto = patches.some(reaches), onto[reaches]
            for at, facing_to, carried in zip(
                floats(patches.places), floats(patches.normals), onto, strict=True
            ):
                middle = at + facing_to * np.float32(0.01)
                carried *= self.casters.reached(middle - floats(self.stage.face), middle)(across, facing)
            found.append((patches, onto))
        return tuple(found)

    def of_sky(self, thrown_back: float) -> UnitPicture:
        """What sky and ground make, an upright surface in the open having a level of 0; the ground throws
        back `thrown_back` of the sky's light."""
        vertices = self._seen.vertices
        places, normals = self._everywhere
        back, upright = np.float32(thrown_back), np.float32(open_sky(0.0, thrown_back))
        level = (1 + normals[:, 1]) / 2 + back * (1 - normals[:, 1]) / 2
        level[: len(vertices)] = self.mesh.sky[vertices] + back * self.mesh.ground[vertices]
        for person in self.stage.people:
            around = places[len(vertices) :]
            near = (around[:, 0] - person.eyes[0]) ** 2 + (around[:, 2] - person.eyes[2]) ** 2
            held = np.exp(-near / FEET_M**2) * np.exp(-((around[:, 1] / 0.5) ** 2))
            level[len(vertices) :] *= 1 - np.float32(FEET_SHADE) * held
        # A surface hides as much sky as it throws back of it: a dark one takes light away.
        for patches, onto in self._carried:
            level += upright * np.float32(1 - 1 / patches.reflectance) * onto.sum(0)
        np.maximum(level, 0, out=level)
        return self._picture(floats(level / upright))

    @cached_property
    def _everywhere(self) -> tuple[Floats, Floats]:
        """Places that are lit, and how they face (n×3 each): vertices that are seen, then each plane."""
        mesh, vertices = self.mesh, self._seen.vertices
        places = [mesh.places[vertices], *(plane.places for plane in self._planes)]
        normals = [mesh.normals[vertices], *(plane.normals for plane in self._planes)]
        return np.concatenate(places), np.concatenate(normals)

    def _picture(
        self, level: Floats, catchlight: StageLight | None = None, toward: Floats | None = None
    ) -> UnitPicture:
        """A picture from the light on all places; a light is mirrored in the eyes, and skin and hair shine
        where it comes from `toward` (n×3, from what is seen of people)."""
        seen, done = self._seen, len(self._seen.vertices)
        light = _at_pixels(level[:done], seen)
        values = seen.albedo * light[:, None]
        if toward is not None:
            shine = level[:done] * gloss(
                self.mesh, seen.vertices, seen.vertex_parts, self.stage.view.at, toward
            )
            values += _at_pixels(shine, seen)[:, None]
        if catchlight is not None:
            self._mirror(values, catchlight)
        people = self._summed(values) * np.float32(MID_GREY / MID_TONE_REFLECTANCE)
        if not self._planes:
            return UnitPicture(people, None)
        place = np.zeros((3, self.height * self.width), np.float32)
        for plane in self._planes:
            grid = level[done : done + len(plane.places)].reshape(plane.shape)
            done += len(plane.places)
            place[:, plane.pixels] += plane.albedo.T * (_between(grid, plane.at) * plane.cover)
        place *= np.float32(MID_GREY / MID_TONE_REFLECTANCE)
        return UnitPicture(people, place.reshape(3, self.height, self.width))

    def _mirror(self, values: Floats, source: StageLight) -> None:
        """The light's face, mirrored in the eyes."""
        seen = self._seen
        if not len(seen.eyes):
            return
        places = seen.eye_places
        normals = seen.eye_normals / np.linalg.norm(seen.eye_normals, axis=1, keepdims=True)
        look = places - floats(self.stage.view.at)
        look /= np.linalg.norm(look, axis=1, keepdims=True)
        back = look - 2 * (look * normals).sum(1, keepdims=True) * normals
        light = floats(source.at) - places
        away = np.linalg.norm(light, axis=1)
        half = np.arcsin(np.clip(max(source.radius_m, 0.04) / away, 0, 1))
        off = np.arccos(np.clip((back * light).sum(1) / away, -1, 1))
        part = np.clip((half - off) / 0.12 + 0.5, 0, 1)
        values[seen.eyes] += (np.float32(SHEEN * CORNEA) * part)[:, None]

    @cached_property
    def _planes(self) -> tuple[_Plane, ...]:
        """Ground and walls, where they are in the picture."""
        view = self.stage.view
        rays = view.rays().reshape(-1, 3)
        nearest = np.full(len(rays), np.inf, np.float32)
        found = []
        down = rays[:, 1] < -1e-4
        away = np.where(down, view.at[1] / -np.where(down, rays[:, 1], -1), np.inf).astype(np.float32)
        for wall in self.stage.walls:
            met = self._wall_met(wall, rays)
            met[met > self.stage.background_m] = np.inf
            nearest = np.minimum(nearest, met)
            found.append((wall, met))
        planes = [self._wall_plane(wall, rays, met, met <= nearest) for wall, met in found]
        planes.append(self._ground(rays, away, away < nearest))
        return tuple(plane for plane in planes if len(plane.pixels))

    def _ground(self, rays: Floats, away: Floats, seen: NDArray[np.bool_]) -> _Plane:
        stage = self.stage
        start = stage.subject_m + FADES_OVER_M[0]
        over = min(FADES_OVER_M[1], max(stage.background_m - start, 0.5))
        cover = np.clip(1 - (away - start) / over, 0, 1)
        pixels = np.nonzero(seen & (cover > 0))[0].astype(np.int32)
        xs = [person.eyes[0] for person in stage.people]
        zs = [person.eyes[2] for person in stage.people]
        low = (min(xs) - AROUND_M, min(zs) - 1.6 * AROUND_M)
        counts = (
            int((max(xs) + AROUND_M - low[0]) / GROUND_CELL_M) + 2,
            int((max(zs) + AROUND_M - low[1]) / GROUND_CELL_M) + 2,
        )
        x = low[0] + GROUND_CELL_M * np.arange(counts[0], dtype=np.float32)
        z = low[1] + GROUND_CELL_M * np.arange(counts[1], dtype=np.float32)
        grid_x, grid_z = np.meshgrid(x, z)
        places = np.stack([grid_x.ravel(), np.zeros(grid_x.size, np.float32), grid_z.ravel()], 1)
        ahead = floats(stage.view.at) + rays[pixels] * away[pixels, None]
        at = np.stack([(ahead[:, 2] - low[1]) / GROUND_CELL_M, (ahead[:, 0] - low[0]) / GROUND_CELL_M], 1)
        albedo = np.float32(stage.ground_reflectance) * self._pattern(pixels, ahead)
        up = np.tile(floats((0, 1, 0)), (len(places), 1))
        return _Plane(
            places.astype(np.float32),
            up,
            (counts[1], counts[0]),
            pixels,
            at.astype(np.float32),
            albedo,
            cover[pixels],
        )

    def _pattern(self, pixels: Indices, ahead: Floats) -> Floats:
        """What parts of the ground throw back of its mean, by channel: as a photograph has it, or
        invented."""
        if self._photographed is not None and len(pixels):
            seen = self._photographed.reshape(-1, 3)[pixels]
            mean = max(float((seen @ LUMINANCE).mean()), 1e-3)
            return floats(np.minimum(seen / np.float32(mean), GROUND_PATTERN_MOST))
        hue = floats((0.88, 1.10, 0.60) if self.stage.ground == "grass" else (1.03, 1.0, 0.92))
        grain = 1 + 0.10 * np.sin(ahead[:, 0] * 23 + 3 * np.sin(ahead[:, 2] * 9)) * np.sin(ahead[:, 2] * 31)
        return floats(hue * grain[:, None])

    def _wall_met(self, wall: StageWall, rays: Floats) -> Floats:
        """How far along each ray it meets a wall, infinite where it does not."""
        eye = self.stage.view.at
        ax, az = wall.start
        bx, bz = wall.end[0] - ax, wall.end[1] - az
        across = rays[:, 0] * bz - rays[:, 2] * bx
        safe = np.where(np.abs(across) > 1e-6, across, 1e-6)
        far = ((ax - eye[0]) * bz - (az - eye[2]) * bx) / safe
        part = ((ax - eye[0]) * rays[:, 2] - (az - eye[2]) * rays[:, 0]) / safe
        height = eye[1] + rays[:, 1] * far
        good = (far > 0.3) & (part >= 0) & (part <= 1) & (height >= 0) & (height <= wall.height_m)
        found: Floats = np.where(good, far, np.inf).astype(np.float32)
        return found

    def _wall_plane(self, wall: StageWall, rays: Floats, met: Floats, nearest: NDArray[np.bool_]) -> _Plane:
        start, end = floats(wall.start), floats(wall.end)
        long = dist(wall.start, wall.end)
        counts = (max(int(long / 0.10), 2), max(int(wall.height_m / 0.10), 2))
        part = np.linspace(0, 1, counts[0], dtype=np.float32)
        high = np.linspace(0, wall.height_m, counts[1], dtype=np.float32)
        along, up = np.meshgrid(part, high)
        foot = start + along.reshape(-1, 1) * (end - start)
        places = np.stack([foot[:, 0], up.ravel(), foot[:, 1]], 1).astype(np.float32)
        normal = floats((end[1] - start[1], 0, start[0] - end[0])) / np.float32(long)
        eye = floats(self.stage.view.at)
        if float((eye - places[0]) @ normal) < 0:
            normal = -normal
        pixels = np.nonzero(np.isfinite(met) & nearest)[0].astype(np.int32)
        ahead = eye + rays[pixels] * met[pixels, None]
        on_wall = ((ahead[:, [0, 2]] - start) @ (end - start)) / np.float32(long**2)
        at = np.stack([ahead[:, 1] / wall.height_m * (counts[1] - 1), on_wall * (counts[0] - 1)], 1).astype(
            np.float32
        )
        grain = 1 + 0.06 * np.sin(on_wall * long * 19) * np.sin(ahead[:, 1] * 29)
        albedo = np.full((len(pixels), 3), wall.reflectance, np.float32) * grain[:, None].astype(np.float32)
        normals = np.tile(normal.astype(np.float32), (len(places), 1))
        return _Plane(
            places, normals, (counts[1], counts[0]), pixels, at, albedo, np.ones(len(pixels), np.float32)
        )

    @cached_property
    def place_cover(self) -> Floats | None:
        """How much of each pixel ground and walls cover where nobody stands before them, h×w; None for
        nothing."""
        if not self._planes:
            return None
        found = np.zeros(self.width * self.height, np.float32)
        for plane in self._planes:
            found[plane.pixels] += plane.cover
        return found.reshape(self.height, self.width)


def _at_pixels(values: Floats, seen: _Seen) -> Floats:
    """What vertices have, one figure each, for every fine pixel."""
    found: Floats = values[seen.corners[:, 0]] * seen.weights[:, 0]
    for corner in (1, 2):
        found += values[seen.corners[:, corner]] * seen.weights[:, corner]
    return found


def _mixed(values: Floats, corners: Indices, weights: Floats) -> Floats:
    """What vertices have (n×3), mixed by the weights of three of them."""
    found: Floats = sum(values[corners[:, one]] * weights[:, one, None] for one in range(3))  # type: ignore[assignment]
    return found


def _between(grid: Floats, at: Floats) -> Floats:
    """Values of a grid at places between its points (row, column); outside it as at its edge."""
    rows = np.clip(at[:, 0], 0, grid.shape[0] - 1.001)
    columns = np.clip(at[:, 1], 0, grid.shape[1] - 1.001)
    row, column = rows.astype(np.int32), columns.astype(np.int32)
    down, right = rows - row, columns - column
    found: Floats = (
        grid[row, column] * (1 - down) * (1 - right)
        + grid[row, column + 1] * (1 - down) * right
        + grid[row + 1, column] * down * (1 - right)
        + grid[row + 1, column + 1] * down * right
    )
    return found
