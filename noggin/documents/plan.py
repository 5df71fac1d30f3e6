"""The plan document, `noggin-plan` version 1: every way to make one picture, best first."""

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, ValidationError, WithJsonSchema

from noggin.core.advice.cautions import cautions
from noggin.core.advice.details import clipping_level, first_to_clip
from noggin.core.advice.reasons import reasons_of
from noggin.core.advice.remedies import Remedy
from noggin.core.advice.verdict_words import lacks_in_words, move_words
from noggin.core.physics.appearance import DARK_SUIT, WHITE_DRESS
from noggin.core.planning.lighting import Firing
from noggin.core.planning.mend import Mend
from noggin.core.planning.motion import motion
from noggin.core.planning.way import Plan, Way
from noggin.core.planning.ways import WAYS
from noggin.core.setup.setup import SetUp
from noggin.documents.fields import own_words
from noggin.documents.json_input import check_kind
from noggin.documents.layout import layout_written
from noggin.documents.problems import BadDocument, problems_of, shown

FORMAT = "noggin-plan"
VERSION = 1


def _known_way(key: str) -> str:
    if key not in WAYS:
        raise own_words(f"{shown(key)} is not one of {', '.join(WAYS)}")
    return key


WayKey = Annotated[str, AfterValidator(_known_way), WithJsonSchema({"enum": list(WAYS), "type": "string"})]


class PlanPart(BaseModel):
    """A part of the document; every number in full precision, null where there is none."""

    model_config = ConfigDict(extra="forbid")


class SettingsDocument(PlanPart):
    shutter_s: float
    shutter: str
    aperture: float
    aperture_label: str
    iso: int
    nd_stops: float
    filters: list[str]


class LevelsDocument(PlanPart):
    sky: float | None
    rim: float | None
    background: float
    background_ambient: float
    spill: float | None
    subject_ambient: float
    flash: float | None
    subject: float


class PlannedLightDocument(PlanPart):
    name: str
    role: str
    power: float | None
    power_label: str | None
    level: float | None
    reserve: float | None
    hss: bool
    group: str
    channel: int | None
    spread: float
    t01_s: float | None
    frames: int | None
    recycle_s: float | None


class TonesDocument(PlanPart):
    """Levels of what people wear, where the sensor is full, and what reaches it first."""

    white_dress: float
    dark_suit: float
    clips_at: float
    first_to_clip: str


class MotionDocument(PlanPart):
    """A moving subject's path on the sensor, what still reads as a point, and what freezes it."""

    smear_mm: float
    point_mm: float
    frozen_by: Literal["shutter", "flash"] | None


class FocusDocument(PlanPart):
    near_m: float
    far_m: float | None
    background_blur_pct: float


class RemedyDocument(PlanPart):
    remedy: str
    gain: float
    to: str
    change: dict[str, Any]
    suffices: bool
    together_with: str | None


class MissDocument(PlanPart):
    """One thing a way misses, what it adds to the miss (null for a means that is lacking), and its
    light."""

    what: Literal["background", "spill", "flash", "too_strong", "filter", "high_speed", "aperture"]
    stops: float | None
    light: str | None


class DrawbackDocument(PlanPart):
    """One thing that ranks a way lower, by so many stops."""

    what: Literal["movement", "hand", "blur", "focus", "battery"]
    stops: float


class MovedLightDocument(PlanPart):
    """A light and where it is to stand: its distance to what it lights."""

    light: str
    distance_m: float


class MendDocument(PlanPart):
    """The one move that makes a way feasible: in words, by light, and as the fields of the set-up document
    that it changes."""

    to: str
    lights: list[MovedLightDocument]
    change: dict[str, Any]


class WayDocument(PlanPart):
    way: WayKey
    verdict: Literal["holds", "just", "mend", "short", "not_needed"]
    feasible: bool
    misses: list[MissDocument]
    lacks: list[str]
    mend: MendDocument | None = None
    settings: SettingsDocument
    levels: LevelsDocument
    flash_share: float
    compensation: float | None
    lights: list[PlannedLightDocument]
    reserve: float | None
    uncertainty: float | None
    focus: FocusDocument
    tones: TonesDocument
    motion: MotionDocument | None
    drawbacks: list[DrawbackDocument]
    cautions: list[str]
    reasons: list[str]
    remedies: list[RemedyDocument]


def _every_way(ways: list[WayDocument]) -> list[WayDocument]:
    if len(ways) != len(WAYS):
        raise own_words(f"lists {len(ways)} ways, not {len(WAYS)}")
    return ways


class PlanDocument(PlanPart):
    """Every way of one set-up, best first; `chosen` is the first, where it is feasible or one move away."""

    model_config = ConfigDict(title="noggin-plan, version 1")

    format: Literal["noggin-plan"] = "noggin-plan"
    version: Literal[1] = 1
    name: str
    chosen: WayKey | None
    ways: Annotated[
        list[WayDocument],
        AfterValidator(_every_way),
        Field(json_schema_extra={"minItems": len(WAYS), "maxItems": len(WAYS)}),
    ]
    notes: Any = Field(default=None, exclude_if=lambda value: value is None)


def read_plan(found: dict[str, Any]) -> PlanDocument:
    """A plan document from a parsed object, such as another Noggin wrote. Raises BadDocument."""
    check_kind(found, FORMAT, VERSION)
    try:
        return PlanDocument.model_validate(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None


def plan_document(plan: Plan, remedies: Mapping[str, Sequence[Remedy]], notes: Any = None) -> PlanDocument:
    """The document of a plan with the remedies of each way, carrying the set-up's notes along."""
    return PlanDocument(
        name=plan.setup.name,
        chosen=plan.chosen.key if plan.chosen else None,
        ways=[_way(plan, way, remedies[way.key]) for way in plan.ways],
        notes=notes,
    )


def _way(plan: Plan, way: Way, remedies: Sequence[Remedy]) -> WayDocument:
    setup, settings, lighting = plan.setup, way.settings, way.lighting
    return WayDocument(
        way=way.key,
        verdict=way.verdict,  # type: ignore[arg-type]
        feasible=way.feasible,
        misses=[
            MissDocument(what=miss.what, stops=miss.stops, light=miss.light or None)  # type: ignore[arg-type]
            for miss in way.misses
        ],
        lacks=list(lacks_in_words(way)),
        mend=_mend(way.mend) if way.mend else None,
        settings=SettingsDocument(
            shutter_s=settings.shutter.value,
            shutter=settings.shutter.label,
            aperture=settings.aperture.value,
            aperture_label=f"f/{settings.aperture.label}",
            iso=int(settings.iso.label),
            nd_stops=settings.stack.stops,
            filters=list(settings.stack.names),
        ),
        levels=LevelsDocument.model_validate(lighting.levels, from_attributes=True),
        flash_share=lighting.flash_share,
        compensation=way.compensation(setup),
        lights=[_light(firing) for firing in lighting.firings],
        reserve=way.reserve,
        uncertainty=way.uncertainty,
        focus=FocusDocument.model_validate(way.focus, from_attributes=True),
        tones=_tones(setup, way),
        motion=_motion(setup, way),
        drawbacks=[
            DrawbackDocument(what=drawback.kind, stops=drawback.stops)  # type: ignore[arg-type]
            for drawback in way.drawbacks
        ],
        cautions=list(cautions(setup, way)),
        reasons=list(reasons_of(plan, way)),
        remedies=[
            RemedyDocument(
                remedy=remedy.remedy,
                gain=remedy.gain,
                to=remedy.to,
                change=dict(remedy.change),
                suffices=remedy.suffices,
                together_with=remedy.together_with or None,
            )
            for remedy in remedies
        ],
    )


def _mend(found: Mend) -> MendDocument:
    layout, change = found.setup.scene.layout, dict[str, Any]()
    for move in found.moves:
        light, path = found.setup.lights[move.index], f"lights[{move.index}]"
        change[f"{path}.distance_m"] = move.distance_m
        if layout is not None:
            change[f"{path}.stand.height_m"] = light.stand.height_m
            change[f"{path}.face_distances_m"] = list(light.faces_m)
    if layout is not None:
        change["scene.plan"] = layout_written(layout)
    return MendDocument(
        to=f"{move_words(found)}",
        lights=[MovedLightDocument(light=move.light, distance_m=move.distance_m) for move in found.moves],
        change=change,
    )


def _tones(setup: SetUp, way: Way) -> TonesDocument:
    faces = way.lighting.levels.subject
    return TonesDocument(
        white_dress=faces + WHITE_DRESS,
        dark_suit=faces + DARK_SUIT,
        clips_at=clipping_level(setup, way),
        first_to_clip=first_to_clip(setup, way)[0],
    )


def _motion(setup: SetUp, way: Way) -> MotionDocument | None:
    if not setup.scene.subject_speed_m_s:
        return None
    found = motion(setup, way.lighting)
    return MotionDocument(
        smear_mm=found.smear_mm,
        point_mm=found.point_mm,
        frozen_by=found.frozen_by or None,  # type: ignore[arg-type]
    )


def _light(firing: Firing) -> PlannedLightDocument:
    light, power = firing.light, firing.power
    return PlannedLightDocument(
        name=light.name,
        role=light.role,
        power=power,
        power_label=firing.power_label,
        level=firing.level,
        reserve=firing.reserve,
        hss=firing.hss,
        group=light.group,
        channel=light.channel,
        spread=light.spread,
        t01_s=light.flash_pulse.t01_s(power) if power and not firing.hss else None,
        frames=light.battery.frames(power, firing.hss) if light.battery and power else None,
        recycle_s=light.battery.recycles_in(power) if light.battery and power else None,
    )
