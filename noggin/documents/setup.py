"""The set-up document, `noggin-setup` version 1: one picture to be lit."""

import json
from collections.abc import Callable
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, WithJsonSchema

from noggin.core import camera, light, limits, setup
from noggin.core.errors import Refused
from noggin.core.filters import Filter
from noggin.core.quantities import as_fraction
from noggin.documents.faults import BadDocument, Fault, faults_of, refused, shown
from noggin.documents.fields import Ev, LeastPower, Level, Name, PowerStep, Time, Within, own_words
from noggin.documents.reading import check_kind

FORMAT = "noggin-setup"
VERSION = 1

Built = TypeVar("Built")


class Part(BaseModel):
    """A part of a document: unknown fields are refused, types are not bent."""

    model_config = ConfigDict(extra="forbid", strict=True)


class Ev100(Part):
    background: Ev
    subject: Ev
    sky: Ev | None = None
    rim: Ev | None = None


class Scene(Part):
    subject_distance_m: Annotated[float, Within(limits.SUBJECT_DISTANCE)]
    background_distance_m: Annotated[float, Within(limits.BACKGROUND_DISTANCE)]
    ev100: Ev100
    subject_speed_m_s: Annotated[float, Within(limits.SUBJECT_SPEED)] = 0.0

    def core(self) -> setup.Scene:
        return setup.Scene(
            self.subject_distance_m,
            self.background_distance_m,
            subject_speed_m_s=self.subject_speed_m_s,
            **self.ev100.model_dump(),
        )


class Flash(Part):
    school: Literal["total", "match", "share", "auto"] = "total"
    share: Annotated[float, Within(limits.SHARE)] | None = None


class Intent(Part):
    background_level: Level
    subject_level: Level = 0.0
    flash: Flash = Field(default_factory=Flash)
    aperture: Annotated[float, Within(limits.APERTURE)]
    prefer: Literal["reach", "speed", "glass"] = "reach"

    def core(self) -> setup.Intent:
        return setup.Intent(
            self.background_level,
            self.aperture,
            self.subject_level,
            self.flash.school,
            self.flash.share,
            self.prefer,
        )


def _pair(value: Any) -> Any:
    """A JSON list as a tuple, so that strict reading takes it."""
    return tuple(value) if isinstance(value, list) else value


Side = Annotated[float, Within(limits.SENSOR_SIDE)]


class Camera(Part):
    name: Name = ""
    sync_s: Time
    fastest_s: Time = 1 / 8000
    slowest_s: Time = 1 / 60
    iso_lowest: Annotated[float, Within(limits.ISO)] = 100
    iso_highest: Annotated[float, Within(limits.ISO)] = 6400
    dial_steps: Literal[1, 2, 3] = 3
    sensor_mm: Annotated[tuple[Side, Side], BeforeValidator(_pair)] = (36, 24)
    hss: bool = True

    def core(self) -> camera.Camera:
        return camera.Camera(**self.model_dump())


class Lens(Part):
    name: Name = ""
    focal_mm: Annotated[float, Within(limits.FOCAL)]
    widest: Annotated[float, Within(limits.APERTURE)]
    smallest: Annotated[float, Within(limits.APERTURE)]

    def core(self) -> camera.Lens:
        return camera.Lens(**self.model_dump())


FilterStops = Annotated[float, Within(limits.FILTER)]


def _span(value: Any) -> Any:
    """One figure, checked once, as a span of itself; a list as a tuple."""
    if isinstance(value, int | float) and not isinstance(value, bool):
        return (Within(limits.FILTER).check(value),) * 2
    if isinstance(value, list):
        return tuple(value)
    raise own_words(f"{shown(value)} is neither a number nor two")


class FilterDocument(Part):
    name: Name
    stops: Annotated[
        tuple[FilterStops, FilterStops],
        BeforeValidator(_span),
        WithJsonSchema(
            {
                "anyOf": [
                    {
                        "type": "number",
                        "minimum": limits.FILTER.least,
                        "maximum": limits.FILTER.most,
                    },
                    {"type": "array", "items": {"type": "number"}, "minItems": 2, "maxItems": 2},
                ]
            }
        ),
    ]

    def core(self) -> Filter:
        return Filter(self.name, *self.stops)


class LightDocument(Part):
    name: Name = ""
    role: Literal["key", "fill", "rim", "background"]
    gn_m: Annotated[float, Within(limits.GUIDE_NUMBER)]
    loss: Annotated[float, Within(limits.LOSS)] = 0.0
    radius_m: Annotated[float, Within(limits.RADIUS)] = 0.0
    distance_m: Annotated[float, Within(limits.LIGHT_DISTANCE)]
    count: Annotated[int, Within(limits.HEADS)] = 1
    power_min: LeastPower = 1 / 128
    power_step: PowerStep = 1 / 3
    scale: Literal["fraction", "decimal"] = "fraction"
    full_mark: Annotated[float, Within(limits.FULL_MARK)] = 10.0
    hss_toll: Annotated[float, Within(limits.TOLL)] | None = None
    relative_level: Level | None = None

    def core(self) -> light.Light:
        return light.Light(**self.model_dump())


class SetUpDocument(Part):
    """One picture to be lit: what is there, what is meant, and what stands in the bag."""

    model_config = ConfigDict(title="noggin-setup, version 1")

    format: Literal["noggin-setup"]
    version: Literal[1]
    name: Name
    scene: Scene
    intent: Intent
    camera: Camera
    lens: Lens
    filters: list[FilterDocument] = Field(default_factory=list, max_length=limits.FILTERS_MOST)
    lights: list[LightDocument] = Field(max_length=limits.LIGHTS_MOST)
    notes: Any = None


def setup_of(found: dict[str, Any]) -> setup.SetUp:
    """A set-up from a parsed document. Raises BadDocument."""
    return core_setup(validated(found))


def normal(found: dict[str, Any]) -> dict[str, Any]:
    """A parsed document checked and written out whole, defaults filled in. Raises BadDocument."""
    document = validated(found)
    core_setup(document)
    return written(document)


def validated(found: dict[str, Any]) -> SetUpDocument:
    """The document model of a parsed object; checks fields one by one. Raises BadDocument."""
    check_kind(found, FORMAT, VERSION)
    try:
        document = SetUpDocument.model_validate(found)
    except ValidationError as error:
        raise BadDocument(faults_of(error)) from None
    try:
        json.dumps(document.notes, allow_nan=False)
    except ValueError:
        raise BadDocument([Fault("notes", "holds NaN or infinity")]) from None
    return document


def core_setup(document: SetUpDocument) -> setup.SetUp:
    """The core's set-up; checks what fields say together. Raises BadDocument."""
    faults: list[Fault] = []

    def build(owner: str, make: Callable[[], Built]) -> Built | None:
        try:
            return make()
        except Refused as refusal:
            faults.append(refused(refusal, owner))
            return None

    scene = build("scene", document.scene.core)
    intent = build("intent", document.intent.core)
    camera = build("camera", document.camera.core)
    lens = build("lens", document.lens.core)
    lights = [build(f"lights[{at}]", one.core) for at, one in enumerate(document.lights)]
    filters = [build(f"filters[{at}]", one.core) for at, one in enumerate(document.filters)]
    if scene and intent and camera and lens and not faults:
        whole = build(
            "",
            lambda: setup.SetUp(
                document.name,
                scene,
                intent,
                camera,
                lens,
                tuple(filter(None, lights)),
                tuple(filter(None, filters)),
            ),
        )
        if whole:
            return whole
    raise BadDocument(faults)


def written(document: SetUpDocument) -> dict[str, Any]:
    """The document as it is exported: times and powers as on a dial, fixed filters as one figure."""
    found = document.model_dump(mode="json")
    for limit in ("sync_s", "fastest_s", "slowest_s"):
        found["camera"][limit] = as_fraction(found["camera"][limit]) or found["camera"][limit]
    for one in found["lights"]:
        for figure in ("power_min", "power_step"):
            one[figure] = as_fraction(one[figure]) or one[figure]
    for item in found["filters"]:
        least, most = item["stops"]
        if least == most:
            item["stops"] = least
    if document.notes is None:
        del found["notes"]
    return found
