"""Documents as they are written and kept: plain JSON objects, with their fields and what those hold.

The models beside this check what comes in; these say what is there once it was checked. Fields that are
left out while they say nothing are not required.
"""

from collections.abc import Mapping
from copy import deepcopy
from typing import Any, NotRequired, TypedDict, cast

Level = float
Figure = float | str
"""A number, or a fraction as on a dial."""


class FilterWritten(TypedDict):
    name: str
    stops: float | list[float]
    polariser: NotRequired[bool]
    thread_mm: NotRequired[float | None]


class RingWritten(TypedDict):
    name: str
    lens_mm: float
    filter_mm: float


class LightWritten(TypedDict):
    name: str
    role: str
    gn_m: float
    loss: float
    radius_m: float
    distance_m: float
    count: int
    power_min: Figure
    power_step: Figure
    scale: str
    full_mark: float
    hss_toll: float | None
    relative_level: float | None
    hss_droop: NotRequired[float]
    gel: NotRequired[str | None]
    group: NotRequired[str]
    channel: NotRequired[int | None]
    angle_deg: NotRequired[float]
    face_distances_m: NotRequired[list[float]]
    grid: NotRequired[bool]
    head: NotRequired[str]
    beam: NotRequired[str]
    energy_ws: NotRequired[float | None]
    zoom_mm: NotRequired[float | None]
    upright: NotRequired[bool]
    baffles: NotRequired[str]
    mount: NotRequired[str]
    pulse: NotRequired[Any]
    battery: NotRequired[Any]
    stand: NotRequired[dict[str, float]]
    uncertainty: NotRequired[dict[str, float | str | None]]
    readings: NotRequired[str]


class PlaceWritten(TypedDict):
    lat: float
    lon: float
    time: str
    tz: str
    sky: str
    ground: str
    facing_deg: float | None


class MovedFromWritten(TypedDict):
    time: str
    sky: str
    ev100: dict[str, float | None]
    uncertainty: NotRequired[dict[str, float | str]]


class PersonWritten(TypedDict):
    skin: str | None
    wears: str | None


class LayoutWritten(TypedDict):
    camera: dict[str, float]
    facing_deg: float | None
    people: list[dict[str, Any]]
    surfaces: list[dict[str, Any]]
    lights: dict[str, dict[str, Any]]
    scrim: NotRequired[dict[str, float] | None]
    wind_deg: NotRequired[float | None]


class PhotographZoneWritten(TypedDict):
    box: list[float] | None
    surface: NotRequired[str]
    ev100: float
    uncertainty: float | str


class PhotographWritten(TypedDict):
    sha256: str
    field_deg: float
    horizon: float
    settings_ev100: float
    shift: float
    by: str
    body: NotRequired[str]
    taken: NotRequired[str | None]
    zones: dict[str, PhotographZoneWritten]


class SceneWritten(TypedDict):
    subject_distance_m: float
    background_distance_m: float
    ev100: dict[str, float | None]
    subject_speed_m_s: float
    face_distances_m: NotRequired[list[float]]
    uncertainty: NotRequired[dict[str, float | str]]
    gust_m_s: NotRequired[float | None]
    place: NotRequired[PlaceWritten | None]
    moved_from: NotRequired[MovedFromWritten | None]
    lamps: NotRequired[dict[str, float | None]]
    people: NotRequired[list[PersonWritten]]
    plan: NotRequired[LayoutWritten | None]
    daylight_k: NotRequired[float | None]
    wet: NotRequired[bool]
    photograph: NotRequired[PhotographWritten | None]


class FlashWritten(TypedDict):
    school: str
    share: float | None


class IntentWritten(TypedDict):
    background_level: Level
    subject_level: Level
    flash: FlashWritten
    aperture: float
    prefer: str
    blur_least_pct: NotRequired[float | None]
    frames: NotRequired[int | None]
    aperture_free: NotRequired[bool]
    white_balance_k: NotRequired[float | None]
    flare: NotRequired[bool]


class CorrectedFigureWritten(TypedDict):
    path: str
    before: Any
    now: Any


class CorrectedWritten(TypedDict):
    frames: int
    at: str
    figures: list[CorrectedFigureWritten]
    shot: str


class SetUpWritten(TypedDict):
    """A set-up, as `noggin-setup` has it."""

    format: str
    version: int
    name: str
    scene: SceneWritten
    intent: IntentWritten
    camera: dict[str, Any]
    lens: dict[str, Any]
    filters: list[FilterWritten]
    rings: NotRequired[list[RingWritten]]
    lights: list[LightWritten]
    bag: NotRequired[str]
    corrected: NotRequired[CorrectedWritten | None]
    notes: NotRequired[Any]


class FigureWritten(TypedDict):
    """A figure of gear: its value, where it comes from and what is known of it."""

    value: Any
    source: str
    plus_minus: NotRequired[float]
    on: NotRequired[str]
    how: NotRequired[str]
    sync_s: NotRequired[Figure]
    before: NotRequired[Any]


class ReflectorWritten(TypedDict):
    name: str
    gn_m: FigureWritten
    beam: NotRequired[str]


class GearWritten(TypedDict, total=False):
    """A piece of gear of any kind; which fields it has goes by its kind."""

    kind: str
    name: str
    source: str
    weight_kg: float | None
    # body and lens
    sync_s: FigureWritten
    fastest_s: Figure
    slowest_s: Figure
    focal_mm: list[float]
    widest: float
    smallest: float
    thread_mm: float | None
    jpeg_curve: dict[str, Any] | None
    # filter and ring
    type: str
    stops: list[float]
    lens_mm: float
    filter_mm: float
    # light
    light_class: str
    reflectors: list[ReflectorWritten]
    hss_toll: FigureWritten | None
    power_min: Figure
    power_step: Figure
    scale: str
    full_mark: float
    head: str
    energy_ws: float | None
    pulse: Any
    battery: Any
    system: str
    # modifier
    shape: str
    across_m: float
    loss: FigureWritten
    narrow: FigureWritten | None
    losses: list[dict[str, Any]]
    grid: FigureWritten | None
    # trigger, stand, sandbag, accessory
    part: str
    shoe: str
    hss: bool
    groups: int
    channels: int
    height_m: float
    footprint_m: float
    kg: float
    count: int
    for_gear: str


class BagWritten(TypedDict):
    name: str
    day: str | None
    gear: list[int]
    notes: NotRequired[str]


class DayReadingWritten(TypedDict):
    time: str
    zone: str
    ev100: float


class SlotWritten(TypedDict):
    """A set-up on a day, by its number."""

    setup: int
    start: str
    minutes: NotRequired[int]
    facing_deg: NotRequired[float | None]
    spot: NotRequired[dict[str, Any]]


class ShootPlaceWritten(TypedDict):
    lat: float
    lon: float
    tz: str
    elevation_m: NotRequired[float]
    name: NotRequired[str]


class ShootWritten(TypedDict):
    """A shoot as it is kept."""

    name: str
    date: str
    place: ShootPlaceWritten
    sky: NotRequired[str]
    ground: NotRequired[str]
    people: NotRequired[str]
    bag: NotRequired[str]
    read_cautions: NotRequired[list[str]]
    readings: NotRequired[list[DayReadingWritten]]
    slots: NotRequired[list[SlotWritten]]
    notes: NotRequired[Any]


def set_up_copy(document: Mapping[str, Any]) -> SetUpWritten:
    """A copy of a kept set-up, to be changed."""
    return cast(SetUpWritten, deepcopy(dict(document)))
