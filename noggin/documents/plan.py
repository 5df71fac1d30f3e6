"""The plan document, `noggin-plan` version 1: five ways to make one picture, best first."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from noggin.core.lighting import Firing
from noggin.core.plan import Plan, Way

WayKey = Literal["within_sync", "stop_down", "nd", "mixed", "hss"]


class Part(BaseModel):
    """A part of the document; every number in full precision, null where there is none."""

    model_config = ConfigDict(extra="forbid")


class SettingsDocument(Part):
    shutter_s: float
    shutter: str
    aperture: float
    aperture_label: str
    iso: int
    nd_stops: float
    filters: list[str]


class LevelsDocument(Part):
    sky: float | None
    rim: float | None
    background: float
    background_ambient: float
    subject_ambient: float
    flash: float | None
    subject: float


class LightDocument(Part):
    name: str
    role: str
    power: float | None
    power_label: str | None
    level: float | None
    reserve: float | None
    hss: bool


class FocusDocument(Part):
    near_m: float
    far_m: float | None
    background_blur_pct: float


class RemedyDocument(Part):
    remedy: str
    gain: float
    to: str
    change: dict[str, Any]


class WayDocument(Part):
    way: WayKey
    feasible: bool
    lacks: list[str]
    settings: SettingsDocument
    levels: LevelsDocument
    flash_share: float
    compensation: float | None = Field(default=None, exclude_if=lambda value: value is None)
    lights: list[LightDocument]
    reserve: float | None
    focus: FocusDocument
    cautions: list[str]
    reasons: list[str]
    remedies: list[RemedyDocument]


class PlanDocument(Part):
    """All five ways of one set-up, best first; `chosen` is the first feasible one."""

    model_config = ConfigDict(title="noggin-plan, version 1")

    format: Literal["noggin-plan"] = "noggin-plan"
    version: Literal[1] = 1
    name: str
    chosen: WayKey | None
    ways: Annotated[list[WayDocument], Field(min_length=5, max_length=5)]
    notes: Any = Field(default=None, exclude_if=lambda value: value is None)


def plan_document(plan: Plan, notes: Any = None) -> PlanDocument:
    """The document of a plan, carrying the set-up's notes along."""
    return PlanDocument(
        name=plan.setup.name,
        chosen=plan.chosen.way if plan.chosen else None,  # type: ignore[arg-type]
        ways=[_way(plan, way) for way in plan.ways],
        notes=notes,
    )


def _way(plan: Plan, way: Way) -> WayDocument:
    settings, lighting = way.settings, way.lighting
    return WayDocument(
        way=way.way,  # type: ignore[arg-type]
        feasible=way.feasible,
        lacks=list(way.lacks),
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
        compensation=way.compensation(plan.setup),
        lights=[_light(firing) for firing in lighting.firings],
        reserve=way.reserve,
        focus=FocusDocument.model_validate(way.focus, from_attributes=True),
        cautions=list(way.cautions),
        reasons=list(way.reasons),
        remedies=[],
    )


def _light(firing: Firing) -> LightDocument:
    return LightDocument(
        name=firing.light.name,
        role=firing.light.role,
        power=firing.power,
        power_label=firing.power_label,
        level=firing.level,
        reserve=firing.reserve,
        hss=firing.hss,
    )
