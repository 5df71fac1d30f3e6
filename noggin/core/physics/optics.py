"""What the lens makes sharp and what it blurs. Thin lens throughout."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, hypot, radians, sin

from noggin.core.units import FNumber, Metres, Millimetres, Seconds

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


FULL_FRAME_MM = 43.27
"""Diagonal of a full-frame sensor in mm, by which crop factors are counted."""


def handheld_limit(focal_mm: Millimetres, sensor_mm: tuple[Millimetres, Millimetres]) -> Seconds:
    """Slowest time that is safe by hand: 1/(focal length × crop). Common practice, no source.

    >>> round(handheld_limit(50, (36, 24)), 4), round(1 / handheld_limit(50, (24, 16)))
    (0.02, 75)
    """
    return hypot(*sensor_mm) / (FULL_FRAME_MM * focal_mm)


def smear_speed(speed_m_s: float, distance_m: Metres, focal_mm: Millimetres) -> float:
    """How fast a subject's image runs over the sensor, mm/s: v · f/(s - f). Thin lens.

    >>> round(smear_speed(3.0, 5.05, 50), 3)
    30.0
    """
    return speed_m_s * 1000 * focal_mm / (distance_m * 1000 - focal_mm)


def frame_side(distance_m: Metres, focal_mm: Millimetres, side_mm: Millimetres) -> Metres:
    """Width (or height) of what the frame takes in at a distance: side · (s - f)/f. Thin lens.

    >>> round(frame_side(3.2, 85, 36), 2)
    1.32
    """
    return side_mm * (distance_m / focal_mm - 0.001)


def distance_of_frame(side_m: Metres, focal_mm: Millimetres, side_mm: Millimetres) -> Metres:
    """From how far the frame takes in a width or height: f · (side/sensor + 1). Thin lens.

    >>> round(distance_of_frame(frame_side(3.2, 85, 36), 85, 36), 6)
    3.2
    """
    return focal_mm * (side_m / side_mm + 0.001)


def light_in_frame(
    light_m: Metres,
    radius_m: Metres,
    angle_deg: float,
    subject_m: Metres,
    focal_mm: Millimetres,
    side_mm: Millimetres,
) -> bool:
    """Whether a light beside the subject shows at the edge of the frame.

    It stands `light_m` from the subject, `angle_deg` off the line from subject to lens (0 at the lens,
    90 beside, 180 behind), and shows when its near edge is within half the frame at its depth.

    >>> light_in_frame(2.5, 0.0, 45, 3.2, 85, 36), light_in_frame(0.6, 0.4, 90, 3.2, 85, 36)
    (False, True)
    """
    depth = subject_m - light_m * cos(radians(angle_deg))
    if depth * 1000 <= focal_mm:
        return False
    beside = light_m * sin(radians(angle_deg)) - radius_m
    return beside < frame_side(depth, focal_mm, side_mm) / 2


def all_sharp(faces_m: Sequence[Metres], near_m: Metres, far_m: Metres | None) -> bool:
    """Whether every face (distances from the lens) is within what is sharp.

    >>> all_sharp([3.15, 3.25], 3.12, 3.28), all_sharp([3.0], 3.12, None)
    (True, False)
    """
    return all(near_m <= face and (far_m is None or face <= far_m) for face in faces_m)


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
