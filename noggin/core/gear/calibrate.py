"""What a few readings say about a light: guide number, high-speed toll, radius of its face, droop.

A reading is the f-number at which a pop metered right. In stops, 2·log2 N - log2(ISO/100), it is

    2·log2 GN - log2(d² + r²) + log2 power                              at or slower than sync,
    … - toll - (1 + droop) · stops past sync                            in high-speed sync,

which is linear in all but the radius; that is searched for where it is not known. ± are two-sided 95 %
by Student's t, from the scatter of the readings themselves. Source: ISO 1230 for the guide number; least
squares and Student's t, handbook of statistics.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import log2, sqrt

import numpy as np
from numpy.typing import NDArray

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.tables import student_t
from noggin.core.units import FNumber, Metres, Seconds, Stops

RADIUS_STEPS = 25
"""Radii that are tried before the best one is refined."""

ODD: Stops = 0.5
"""A reading this far off the others is questioned, whatever their scatter."""

Matrix = NDArray[np.float64]


@dataclass(frozen=True)
class Reading:
    """One pop metered: distance in m, power as a fraction of full, f-number at an ISO, and the time where
    it was fired in high-speed sync."""

    distance_m: Metres
    power: float
    f_number: FNumber
    iso: float = 100
    shutter_s: Seconds | None = None

    def __post_init__(self) -> None:
        limits.LIGHT_DISTANCE.check("distance_m", self.distance_m)
        limits.LEAST_POWER.check("power", self.power)
        limits.METERED.check("f_number", self.f_number)
        limits.ISO.check("iso", self.iso)
        if self.shutter_s is not None:
            limits.SHUTTER.check("shutter_s", self.shutter_s)

    @property
    def level(self) -> Stops:
        """The reading in stops from f/1 at ISO 100."""
        return 2 * log2(self.f_number) - log2(self.iso / 100)


@dataclass(frozen=True)
class Measured:
    """A figure from readings and its ±; both in the figure's unit, the ± of a guide number in stops."""

    value: float
    uncertainty: float


@dataclass(frozen=True)
class Calibration:
    """What the readings say of the light as it was used, with its heads, gel and modifier.

    `radius_m` has a ± of 0 where it was given. `residuals` are readings less model in stops, in the order
    given; `questions` are doubts in words.
    """

    gn_m: Measured
    toll: Measured | None
    radius_m: Measured
    droop: Measured | None
    residuals: tuple[Stops, ...]
    scatter: Stops
    questions: tuple[str, ...]


def calibrate(
    readings: Sequence[Reading],
    sync_s: Seconds,
    radius_m: Metres | None = 0.0,
    *,
    with_droop: bool = False,
) -> Calibration:
    """Fit readings of one light. `radius_m` None: unknown, fitted from readings at several distances.

    Raises Refused where there are too few readings for what is asked.
    """
    asked = 1 + _has_hss(readings) + with_droop + (radius_m is None)
    if len(readings) <= asked:
        raise Refused("readings", f"this takes {asked + 1} readings or more, not {len(readings)}")
    if with_droop and len({reading.shutter_s for reading in readings} - {None}) < 2:
        raise Refused("readings", "finding the droop takes several times past sync")
    if radius_m is None and len({reading.distance_m for reading in readings}) < 3:
        raise Refused("readings", "finding the radius takes readings at three distances or more")
    radius = _best_radius(readings, sync_s, with_droop) if radius_m is None else radius_m
    matrix, target = _system(readings, sync_s, radius, with_droop)
    solution = _solved(matrix, target)
    residuals = target - matrix @ solution
    if radius_m is None:
        slope = [-1 / (reading.distance_m**2 + radius**2) / np.log(2) for reading in readings]
        matrix = np.column_stack([matrix, slope])
    free = len(readings) - matrix.shape[1]
    scatter = float(sqrt(residuals @ residuals / free))
    spread = np.sqrt(np.diag(np.linalg.pinv(matrix.T @ matrix))) * scatter * student_t(free)
    return _told(readings, solution, spread, residuals, scatter, radius, fitted=radius_m is None)


def _solved(matrix: Matrix, target: Matrix) -> Matrix:
    """The least-squares solution."""
    return np.asarray(np.linalg.lstsq(matrix, target)[0], dtype=np.float64)


def _has_hss(readings: Sequence[Reading]) -> bool:
    return any(reading.shutter_s is not None for reading in readings)


def _system(
    readings: Sequence[Reading], sync_s: Seconds, radius_m: Metres, with_droop: bool
) -> tuple[Matrix, Matrix]:
    """Rows and targets of the linear part, for a given radius: guide number, toll, droop."""
    rows, targets = [], []
    for reading in readings:
        past = 0.0 if reading.shutter_s is None else log2(sync_s / reading.shutter_s)
        hss = reading.shutter_s is not None
        row = [1.0]
        if _has_hss(readings):
            row.append(-1.0 if hss else 0.0)
        if with_droop:
            row.append(-past)
        rows.append(row)
        targets.append(
            reading.level + log2(reading.distance_m**2 + radius_m**2) - log2(reading.power) + past
        )
    return np.array(rows), np.array(targets)


def _best_radius(readings: Sequence[Reading], sync_s: Seconds, with_droop: bool) -> Metres:
    """The radius that leaves the least squares: a grid first, then narrowed around its best."""

    def left(radius: float) -> float:
        matrix, target = _system(readings, sync_s, radius, with_droop)
        off = target - matrix @ _solved(matrix, target)
        return float(off @ off)

    low, high = limits.RADIUS.least, limits.RADIUS.most
    for _ in range(3):
        tried = np.linspace(low, high, RADIUS_STEPS)
        best = int(np.argmin([left(float(radius)) for radius in tried]))
        low, high = float(tried[max(best - 1, 0)]), float(tried[min(best + 1, RADIUS_STEPS - 1)])
    return (low + high) / 2


def _told(
    readings: Sequence[Reading],
    solution: Matrix,
    spread: Matrix,
    residuals: Matrix,
    scatter: Stops,
    radius_m: Metres,
    *,
    fitted: bool,
) -> Calibration:
    figures = [Measured(float(value), float(off)) for value, off in zip(solution, spread, strict=False)]
    toll = figures[1] if _has_hss(readings) else None
    droop = figures[2] if len(figures) > 2 and len(solution) > 2 else None
    off = 0.0
    if fitted:
        # The fit is in r²; half of its ± over r is that of r, and near zero what r could be.
        square = float(spread[-1])
        off = min(square / (2 * radius_m), sqrt(square)) if radius_m else sqrt(square)
    return Calibration(
        Measured(2 ** (figures[0].value / 2), figures[0].uncertainty),
        toll,
        Measured(radius_m, off),
        droop,
        tuple(float(residual) for residual in residuals),
        scatter,
        tuple(_questions(readings, residuals, toll)),
    )


def _questions(readings: Sequence[Reading], residuals: Matrix, toll: Measured | None) -> list[str]:
    """Doubts about readings that are possible but hardly true."""
    found = []
    for number, off in enumerate(residuals, start=1):
        if abs(off) > ODD:
            side = "brighter" if off > 0 else "darker"
            found.append(
                f"Reading {number} is {abs(off):.1f} stops {side} than the others say: take it again."
            )
    plain = [reading for reading in readings if reading.shutter_s is None]
    for near in plain:
        for far in plain:
            farther = far.distance_m > near.distance_m
            if farther and far.power <= near.power and far.level > near.level + ODD / 2:
                found.append(
                    "A pop cannot be brighter from farther away at no more power: check the distances."
                )
                break
        else:
            continue
        break
    if toll and toll.value + toll.uncertainty < 0:
        found.append("High-speed sync cannot give more than a full pop: was the first one fired at sync?")
    return found
