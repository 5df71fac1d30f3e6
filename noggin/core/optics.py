"""What the lens makes sharp and what it blurs. Thin lens throughout."""

from dataclasses import dataclass
from math import hypot

from noggin.core.units import FNumber, Metres, Millimetres

GREEN_MM = 0.55e-3
"""Wavelength for the Airy disc: 0.55 µm, the usual figure for green light."""


@dataclass(frozen=True)
class Focus:
    """What is sharp, near to far (None: to infinity), and the background's blur disc, % of frame width."""

    near_m: Metres
    far_m: Metres | None
    background_blur_pct: float


def circle_of_confusion(sensor_mm: tuple[Millimetres, Millimetres]) -> Millimetres:
    """Largest disc that still reads as a point: sensor diagonal / 1500 (common practice).

    >>> round(circle_of_confusion((36, 24)), 4)
    0.0288
    """
    return hypot(*sensor_mm) / 1500


def hyperfocal(focal_mm: Millimetres, f_number: FNumber, coc_mm: Millimetres) -> Metres:
    """Nearest focus that keeps infinity sharp: f²/(N·c) + f, in metres. Source: thin-lens handbook.

    >>> round(hyperfocal(50, 8, 0.03), 2)
    10.47
    """
    return (focal_mm**2 / (f_number * coc_mm) + focal_mm) / 1000


def depth_of_field(
    distance_m: Metres, focal_mm: Millimetres, f_number: FNumber, coc_mm: Millimetres
) -> tuple[Metres, Metres | None]:
    """Near and far limit of what is sharp; far is None from the hyperfocal distance on.

    `near = s(H-f)/(H+s-2f)`, `far = s(H-f)/(H-s)`. The distance must exceed the focal length.
    """
    focal_m = focal_mm / 1000
    h = hyperfocal(focal_mm, f_number, coc_mm)
    near = distance_m * (h - focal_m) / (h + distance_m - 2 * focal_m)
    far = None if distance_m >= h else distance_m * (h - focal_m) / (h - distance_m)
    return near, far


def blur_disc(
    distance_m: Metres, background_m: Metres, focal_mm: Millimetres, f_number: FNumber
) -> Millimetres:
    """Disc on the sensor of a background point: f²/(N(s-f)) · |D-s|/D.

    >>> round(blur_disc(3.2, 40, 85, 2), 3)
    1.067
    """
    spread = focal_mm**2 / (f_number * (distance_m * 1000 - focal_mm))
    return spread * abs(background_m - distance_m) / background_m


def airy_disc(f_number: FNumber) -> Millimetres:
    """Diameter of the diffraction disc, 2.44 λ N at 0.55 µm.

    >>> round(airy_disc(16) * 1000, 1)
    21.5
    """
    return 2.44 * GREEN_MM * f_number


def focus(
    distance_m: Metres,
    background_m: Metres,
    focal_mm: Millimetres,
    f_number: FNumber,
    sensor_mm: tuple[Millimetres, Millimetres],
) -> Focus:
    """Depth of field and background blur of one picture."""
    near, far = depth_of_field(distance_m, focal_mm, f_number, circle_of_confusion(sensor_mm))
    blur = blur_disc(distance_m, background_m, focal_mm, f_number)
    return Focus(near, far, 100 * blur / sensor_mm[0])
