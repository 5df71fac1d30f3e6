"""The set-up document, `noggin-setup` version 1: one picture to be lit."""

import json
from collections.abc import Callable, Mapping
from typing import Annotated, Any, Literal, TypeVar, cast

from pydantic import BeforeValidator, ConfigDict, Field, ValidationError, WithJsonSchema

from noggin.core import limits
from noggin.core.daylight import place
from noggin.core.errors import Refused
from noggin.core.physics.filters import Filter, Ring
from noggin.core.setup import camera, intent, layout, scene, setup
from noggin.core.typed.parse_quantities import as_fraction
from noggin.documents.fields import (
    ClockText,
    Ev,
    Level,
    Name,
    Part,
    Time,
    UncertaintyField,
    Within,
    ZoneName,
    added,
    instant,
    own_words,
    pair,
    uncertainty_of,
)
from noggin.documents.json_input import check_kind, check_notes
from noggin.documents.layout import LayoutDocument
from noggin.documents.lights import LightDocument
from noggin.documents.photograph import PhotographDocument
from noggin.documents.problems import BadDocument, Problem, problems_of, refused, shown
from noggin.documents.written import SetUpWritten

FORMAT = "noggin-setup"
VERSION = 1

Built = TypeVar("Built")


class ZonesDocument(Part):
    background: Ev
    subject: Ev
    sky: Ev | None = None
    rim: Ev | None = None


class ZoneUncertaintyDocument(Part):
    """± of the readings of the zones; those of sky and rim are only carried along."""

    background: UncertaintyField = "measured"
    subject: UncertaintyField = "measured"
    sky: UncertaintyField = added("measured")
    rim: UncertaintyField = added("measured")


class PlaceDocument(Part):
    """Where and when: what the day's light is worked out from."""

    lat: Annotated[float, Within(limits.LATITUDE)]
    lon: Annotated[float, Within(limits.LONGITUDE)]
    time: ClockText
    tz: ZoneName
    sky: Literal["clear", "partly", "overcast"] = "clear"
    ground: Literal["grass", "sand", "paving", "snow"] = "grass"
    facing_deg: Annotated[float, Within(limits.AZIMUTH)] | None = None

    def core(self) -> place.Moment:
        here = place.Place(self.lat, self.lon, self.sky, self.ground, self.facing_deg)
        return place.Moment(here, instant(self.time, self.tz))


class SomeZonesDocument(Part):
    """EV100 of those zones that were moved."""

    background: Ev | None = None
    subject: Ev | None = None
    sky: Ev | None = None
    rim: Ev | None = None


class BaselineDocument(Part):
    """Zones as they were before they were moved with the day's light to the time of the place."""

    time: ClockText
    sky: Literal["clear", "partly", "overcast"] = "clear"
    ev100: SomeZonesDocument
    uncertainty: ZoneUncertaintyDocument = added(ZoneUncertaintyDocument())

    def core(self, tz: str) -> scene.Baseline:
        return scene.Baseline(
            instant(self.time, tz),
            self.sky,
            background_uncertainty=uncertainty_of(self.uncertainty.background),
            subject_uncertainty=uncertainty_of(self.uncertainty.subject),
            **self.ev100.model_dump(),
        )


FacesFromLens = Annotated[
    list[Annotated[float, Within(limits.SUBJECT_DISTANCE)]], Field(max_length=limits.FACES_MOST)
]


class PersonDocument(Part):
    """Someone in the picture: skin and clothes, as far as they are said."""

    skin: Literal["fair", "medium", "brown", "deep"] | None = None
    wears: Literal["white dress", "dark suit", "mid-tone clothes"] | None = None

    def core(self) -> scene.Person:
        return scene.Person(self.skin or "", self.wears or "")


class LampsDocument(Part):
    """EV100 that lamps alone give a zone; the zone's own figure holds it."""

    background: Ev | None = None
    subject: Ev | None = None


class SceneDocument(Part):
    subject_distance_m: Annotated[float, Within(limits.SUBJECT_DISTANCE)]
    background_distance_m: Annotated[float, Within(limits.BACKGROUND_DISTANCE)]
    ev100: ZonesDocument
    subject_speed_m_s: Annotated[float, Within(limits.SUBJECT_SPEED)] = 0.0
    face_distances_m: FacesFromLens = added([])
    uncertainty: ZoneUncertaintyDocument = added(ZoneUncertaintyDocument())
    gust_m_s: Annotated[float, Within(limits.GUST)] | None = added(None)
    place: PlaceDocument | None = added(None)
    moved_from: BaselineDocument | None = added(None)
    lamps: LampsDocument = added(LampsDocument())
    people: Annotated[list[PersonDocument], Field(max_length=limits.FACES_MOST)] = added([])
    plan: LayoutDocument | None = added(None)
    daylight_k: Annotated[float, Within(limits.KELVIN)] | None = added(None)
    wet: bool = added(False)
    photograph: PhotographDocument | None = added(None)

    def core(self) -> scene.Scene:
        baseline = self.moved_from.core(self.place.tz) if self.moved_from and self.place else None
        return scene.Scene(
            self.subject_distance_m,
            self.background_distance_m,
            subject_speed_m_s=self.subject_speed_m_s,
            faces_m=tuple(self.face_distances_m),
            background_uncertainty=uncertainty_of(self.uncertainty.background),
            subject_uncertainty=uncertainty_of(self.uncertainty.subject),
            gust_m_s=self.gust_m_s,
            moment=self.place.core() if self.place else None,
            baseline=baseline,
            lamps_background=self.lamps.background,
            lamps_subject=self.lamps.subject,
            people=tuple(person.core() for person in self.people),
            layout=_layout(self.plan),
            daylight_k=self.daylight_k,
            is_wet=self.wet,
            photograph=self.photograph.core() if self.photograph else None,
            **self.ev100.model_dump(),
        )


def _layout(document: LayoutDocument | None) -> layout.Layout | None:
    """The core's plan; what it refuses is named under it."""
    try:
        return document.core() if document else None
    except Refused as refusal:
        raise Refused(f"plan.{refusal.name}", refusal.problem) from None


class FlashDocument(Part):
    school: Literal["total", "match", "share", "auto"] = "total"
    share: Annotated[float, Within(limits.SHARE)] | None = None


class IntentDocument(Part):
    background_level: Level
    subject_level: Level = 0.0
    flash: FlashDocument = Field(default_factory=FlashDocument)
    aperture: Annotated[float, Within(limits.APERTURE)]
    prefer: Literal["reach", "speed", "glass"] = "reach"
    blur_least_pct: Annotated[float, Within(limits.BLUR)] | None = added(None)
    frames: Annotated[int, Within(limits.FRAMES)] | None = added(None)
    aperture_free: bool = added(False)
    white_balance_k: Annotated[float, Within(limits.KELVIN)] | None = added(None)
    flare: bool = added(False)

    def core(self) -> intent.Intent:
        return intent.Intent(
            self.background_level,
            self.aperture,
            self.subject_level,
            self.flash.school,
            self.flash.share,
            self.prefer,
            self.blur_least_pct,
            self.frames,
            self.aperture_free,
            self.white_balance_k,
            self.flare,
        )


Side = Annotated[float, Within(limits.SENSOR_SIDE)]


class CameraDocument(Part):
    name: Name = ""
    sync_s: Time
    fastest_s: Time = 1 / 8000
    slowest_s: Time = 1 / 60
    iso_lowest: Annotated[float, Within(limits.ISO)] = 100
    iso_highest: Annotated[float, Within(limits.ISO)] = 6400
    dial_steps: Literal[1, 2, 3] = 3
    sensor_mm: Annotated[tuple[Side, Side], BeforeValidator(pair)] = (36, 24)
    hss: bool = True
    shutter: Literal["focal_plane", "leaf", "global", "rolling"] = added("focal_plane")
    iso_base: Annotated[float, Within(limits.ISO)] | None = added(None)
    curtain_s: Time | None = added(None)
    support: Literal["hand", "tripod"] = added("hand")
    trigger: Name = added("")

    def core(self) -> camera.Camera:
        return camera.Camera(**self.model_dump(exclude={"trigger"}))


Thread = Annotated[float, Within(limits.THREAD)]


class LensDocument(Part):
    name: Name = ""
    focal_mm: Annotated[float, Within(limits.FOCAL)]
    widest: Annotated[float, Within(limits.APERTURE)]
    smallest: Annotated[float, Within(limits.APERTURE)]
    thread_mm: Thread | None = added(None)

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

    polariser: bool = added(False)
    thread_mm: Thread | None = added(None)

    def core(self) -> Filter:
        return Filter(self.name, *self.stops, polariser=self.polariser, thread_mm=self.thread_mm)


class RingDocument(Part):
    """A step ring that is packed: the thread of the lens it screws into, and of the filter it takes."""

    name: Name
    lens_mm: Thread
    filter_mm: Thread

    def core(self) -> Ring:
        return Ring(self.name, self.lens_mm, self.filter_mm)


Plain = float | int | str | None


class CorrectedFigure(Part):
    """A figure that frames corrected: its path, what it was before, and what it became."""

    path: Annotated[str, Field(max_length=80)]
    before: Plain
    now: Plain


class CorrectedDocument(Part):
    """That frames corrected figures of this set-up: how many frames, when, which figures, and how it was
    shot in the end, in words."""

    frames: Annotated[int, Field(ge=1, le=1000)]
    at: ClockText
    figures: Annotated[list[CorrectedFigure], Field(max_length=100)]
    shot: Annotated[str, Field(max_length=400)] = added("")


class SetUpDocument(Part):
    """One picture to be lit: what is there, what is meant, and what is in the bag."""

    model_config = ConfigDict(title="noggin-setup, version 1")

    format: Literal["noggin-setup"]
    version: Literal[1]
    name: Name
    scene: SceneDocument
    intent: IntentDocument
    camera: CameraDocument
    lens: LensDocument
    filters: list[FilterDocument] = Field(default_factory=list, max_length=limits.FILTERS_MOST)
    rings: Annotated[list[RingDocument], Field(max_length=limits.RINGS_MOST)] = added([])
    lights: list[LightDocument] = Field(max_length=limits.LIGHTS_MOST)
    bag: Name = added("")
    corrected: CorrectedDocument | None = added(None)
    notes: Any = None


def setup_of(found: Mapping[str, Any]) -> setup.SetUp:
    """A set-up from a parsed document. Raises BadDocument."""
    return core_setup(validated(found))


def canonical(found: Mapping[str, Any]) -> SetUpWritten:
    """A parsed document checked and written out whole, defaults filled in. Raises BadDocument."""
    document = validated(found)
    return remembered(document, core_setup(document))


def remembered(document: SetUpDocument, built: setup.SetUp) -> SetUpWritten:
    """A document written out whole, whose set-up was built already: it is not checked and built again when
    it is opened (`setup_of_text`)."""
    whole = written(document)
    _BUILT[json.dumps(whole)] = built
    while len(_BUILT) > BUILT_MOST:
        _BUILT.pop(next(iter(_BUILT)), None)
    return whole


def setup_of_text(text: str) -> setup.SetUp:
    """The set-up in a document's text, built once. Raises BadDocument."""
    built = _BUILT.get(text)
    if built is None:
        built = _BUILT[text] = setup_of(json.loads(text))
    return built


BUILT_MOST = 256
"""Set-ups that are remembered, those built last."""

_BUILT: dict[str, setup.SetUp] = {}


def validated(found: Mapping[str, Any]) -> SetUpDocument:
    """The document model of a parsed object; checks fields one by one. Raises BadDocument."""
    check_kind(found, FORMAT, VERSION)
    try:
        document = SetUpDocument.model_validate(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
    check_notes(document.notes)
    return document


def core_setup(document: SetUpDocument) -> setup.SetUp:
    """The core's set-up; checks what fields say together. Raises BadDocument."""
    faults: list[Problem] = []

    def build(owner: str, make: Callable[[], Built]) -> Built | None:
        try:
            return make()
        except Refused as refusal:
            faults.append(refused(refusal, owner))
            return None

    own_scene = build("scene", document.scene.core)
    own_intent = build("intent", document.intent.core)
    own_camera = build("camera", document.camera.core)
    lens = build("lens", document.lens.core)
    lights = [build(f"lights[{index}]", light.core) for index, light in enumerate(document.lights)]
    filters = [build(f"filters[{index}]", item.core) for index, item in enumerate(document.filters)]
    rings = [build(f"rings[{index}]", ring.core) for index, ring in enumerate(document.rings)]
    if own_scene and own_intent and own_camera and lens and not faults:
        whole = build(
            "",
            lambda: setup.SetUp(
                document.name,
                own_scene,
                own_intent,
                own_camera,
                lens,
                tuple(filter(None, lights)),
                tuple(filter(None, filters)),
                tuple(filter(None, rings)),
            ),
        )
        if whole:
            return whole
    raise BadDocument(faults)


def written(document: SetUpDocument) -> SetUpWritten:
    """The document as it is exported: times and powers as on a dial, fixed filters as one figure."""
    found = document.model_dump(mode="json", by_alias=True)
    _as_on_a_dial(found["camera"], "sync_s", "fastest_s", "slowest_s", "curtain_s")
    for light in found["lights"]:
        _as_on_a_dial(light, "power_min", "power_step")
        if "pulse" in light:
            _as_on_a_dial(light["pulse"], "t05_s")
    for item in found["filters"]:
        least, most = item["stops"]
        if least == most:
            item["stops"] = least
    if document.notes is None:
        del found["notes"]
    return cast(SetUpWritten, found)


def _as_on_a_dial(part: dict[str, Any], *figures: str) -> None:
    """Write figures as fractions where that says exactly the same."""
    for figure in figures:
        if part.get(figure) is not None:
            part[figure] = as_fraction(part[figure]) or part[figure]
