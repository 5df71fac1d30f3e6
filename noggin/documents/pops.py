"""The pops document, `noggin-pops` version 1: a picture with its frames in, what they say out."""

from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field, ValidationError

from noggin.core import limits
from noggin.core.errors import OutOfRange, Refused, Unreadable
from noggin.core.physics import dials
from noggin.core.physics.appearance import CLOTHES, SKINS
from noggin.core.physics.filters import NO_FILTER, Stack
from noggin.core.physics.power import power_label
from noggin.core.planning.lighting import Settings
from noggin.core.planning.plan import work_out
from noggin.core.planning.way import Way
from noggin.core.planning.ways import WAYS
from noggin.core.pops.estimate import Estimate
from noggin.core.pops.faults import Diagnosis, diagnose
from noggin.core.pops.frame import (
    BandSeen,
    ClippedSeen,
    Dialled,
    Frame,
    LevelSeen,
    Meant,
    MeterSeen,
    Seen,
    ShareSeen,
    place_of,
)
from noggin.core.pops.looks import with_meant
from noggin.core.pops.next_change import advise
from noggin.core.pops.prospects import Change
from noggin.core.setup.setup import SetUp
from noggin.core.typed.parse_quantities import read_aperture, read_power
from noggin.core.units import TOLERANCE, FNumber, Stops
from noggin.core.wording import percent
from noggin.documents.fields import Name, Part, Time, Within, added
from noggin.documents.json_input import check_kind, check_notes
from noggin.documents.plan import PlanPart, WayKey
from noggin.documents.problems import BadDocument, Problem, problems_of, refused
from noggin.documents.setup import SetUpDocument, core_setup

FORMAT = "noggin-pops"
VERSION = 1

FRAMES_MOST = 100
"""Frames of one picture."""

LOOKS_MOST = 20
"""Pictures of one take."""

FaultKey = Literal[
    "no_flash", "group_asleep", "sync_fallback", "hss_off", "hss_left_on", "filter_left_off",
    "filter_left_on", "auto_iso", "auto_flash", "wrong_light", "cloud", "typing_slip",
]  # fmt: skip
"""The faults that a frame can have: those of the core's FAULTS."""

SURFACES = {surface.label: surface for surface in (*SKINS.values(), *CLOTHES.values())}
"""Surfaces by what they are called."""


class DialledDocument(Part):
    """What a frame was dialled to. `nd_stops` is what the filters take together, where one is turned,
    `compensation` that of automatic flash, in place of powers, and `distances` where lights stand that were
    moved since."""

    shutter: Time
    aperture: Annotated[float, Within(limits.APERTURE)]
    iso: Annotated[float, Within(limits.ISO)]
    filters: list[Name] = Field(default_factory=list, max_length=2)
    powers: dict[str, str | float] = Field(default_factory=dict, max_length=limits.LIGHTS_MOST)
    hss: bool = False
    nd_stops: Annotated[float, Within(limits.FILTER)] | None = added(None)
    compensation: Annotated[float, Within(limits.LEVEL)] | None = added(None)
    distances: dict[str, Annotated[float, Within(limits.LIGHT_DISTANCE)]] = added({})


def read_metered(text: str) -> FNumber:
    """The aperture that a flash meter says. Raises Unreadable, OutOfRange."""
    f_number = read_aperture(text)
    limits.METERED_APERTURE.check("meter", f_number)
    return f_number


class SeenDocument(Part):
    """One thing seen: a zone's level, or that it clips; a meter's aperture for one light; a share of
    flash; a band."""

    zone: str | None = None
    level: Annotated[float, Field(ge=-20, le=20)] | None = None
    by: Literal["words", "jpeg", "jpeg_fitted", "raw", "meter", "histogram"] = "words"
    clipped: Literal[True] | None = None
    light: str | None = None
    meter: str | None = None
    flash_share: float | None = None
    band: str | None = None
    surface: str | None = None

    def core(self, setup: SetUp) -> Seen:
        """What was seen. Raises Refused, Unreadable."""
        if self.band is not None:
            return BandSeen()
        if self.meter is not None:
            place = place_of(setup, self.light or "key")
            return MeterSeen(setup.lights[place].says, dials.aperture_stops(read_metered(self.meter)))
        if self.flash_share is not None:
            return ShareSeen(self.flash_share)
        if self.clipped:
            return ClippedSeen(self.zone or "")
        if self.level is None:
            raise Refused("level", "say what was seen: a level, clipped, a meter, a flash share or a band")
        return LevelSeen(self.zone or "", self.level - self._offset(), self.by)

    def _offset(self) -> Stops:
        if self.surface is None:
            return 0.0
        limits.check_choice("surface", self.surface, SURFACES)
        return SURFACES[self.surface].offset


class FrameDocument(Part):
    """One frame. `fault` is what the photographer found had gone wrong, `not_faults` what had not; `look`
    is the picture of the take that it is of, and `wanted` are zones that are right as they came out."""

    minute: Annotated[float, Field(ge=0, le=1440)]
    flash: bool
    dialled: DialledDocument
    seen: list[SeenDocument] = Field(default_factory=list, max_length=20)
    fault: FaultKey | None = added(None)
    not_faults: list[FaultKey] = added([])
    look: Name | None = added(None)
    wanted: Annotated[list[Literal["background", "subject"]], Field(max_length=2)] = added([])


class LookDocument(Part):
    """One of several pictures of a take: what it is meant to be."""

    name: Name
    background_level: Annotated[float, Within(limits.LEVEL)]
    subject_level: Annotated[float, Within(limits.LEVEL)] = 0.0


class PopsDocument(Part):
    """A picture, the way it is taken, and its frames in the order they were taken."""

    model_config = ConfigDict(title="noggin-pops, version 1")

    format: Literal["noggin-pops"]
    version: Literal[1]
    setup: SetUpDocument
    way: WayKey
    looks: Annotated[list[LookDocument], Field(max_length=LOOKS_MOST)] = added([])
    frames: list[FrameDocument] = Field(min_length=1, max_length=FRAMES_MOST)
    notes: Any = None


class Known(PlanPart):
    """A figure in stops and its ±, two standard deviations."""

    value: float
    uncertainty: float


class SuspectedDocument(PlanPart):
    fault: str
    probability: float
    check: str


class NextDocument(PlanPart):
    control: str
    light: str | None
    to: str
    dialled: dict[str, Any]
    expected: dict[str, float]


class PopsAnswer(PlanPart):
    """What the frames say: offsets of daylight and gear, levels as dialled last, what went wrong, and
    what to change next."""

    format: Literal["noggin-pops-answer"] = "noggin-pops-answer"
    version: Literal[1] = 1
    offsets: dict[str, Known]
    levels: dict[str, Known]
    faults: list[SuspectedDocument]
    next: NextDocument | None
    done: bool
    why: str


def read_pops(found: dict[str, Any]) -> "Taken":
    """Set-up, way and frames of a parsed document. Raises BadDocument."""
    check_kind(found, FORMAT, VERSION)
    try:
        document = PopsDocument.model_validate(found)
    except ValidationError as error:
        raise BadDocument(problems_of(error)) from None
    check_notes(document.notes)
    try:
        setup = core_setup(document.setup)
    except BadDocument as bad:
        raise BadDocument([Problem(f"setup.{one.path}", one.problem) for one in bad.problems]) from None
    frames, faults = [], []
    for index, frame in enumerate(document.frames):
        try:
            frames.append(core_frame(setup, frame))
        except Refused as error:
            faults.append(refused(error, f"frames[{index}]"))
        except (Unreadable, OutOfRange) as error:
            faults.append(Problem(f"frames[{index}]", str(error)))
    minutes = [frame.minute for frame in document.frames]
    if minutes != sorted(minutes):
        faults.append(Problem("frames", "minutes go back: give the frames as they were taken"))
    if faults:
        raise BadDocument(faults)
    looks = [Meant(look.background_level, look.subject_level, look.name) for look in document.looks]
    named = [(frame, one.look or "") for frame, one in zip(frames, document.frames, strict=True)]
    try:
        meant = with_meant(setup, looks, named)
    except Refused as error:
        raise BadDocument([Problem(error.name, error.problem)]) from None
    return Taken(setup, work_out(setup, WAYS[document.way]), *meant)


@dataclass(frozen=True)
class Taken:
    """A picture that is being taken: set-up, way, frames, and what the next one is meant to be."""

    setup: SetUp
    way: Way
    frames: tuple[Frame, ...]
    meant: Meant


def answer(taken: Taken) -> PopsAnswer:
    """What some frames say."""
    setup = taken.setup
    found = diagnose(setup, taken.frames)
    advice = advise(setup, taken.way, found.plain, meant=taken.meant)
    likely = found.likely
    change, why = (advice.change, advice.why) if likely is None else (None, likely.question)
    return PopsAnswer(
        offsets=_offsets(setup, found.estimate),
        levels={zone: _known(level) for zone, level in found.estimate.zones.items()},
        faults=_suspected(found),
        next=None if change is None else _next(setup, change),
        done=advice.done and likely is None,
        why=f"{why} {likely_right(advice.probability)}",
    )


def likely_right(probability: float) -> str:
    """How likely it is that face and background are right, as a sentence."""
    return f"{percent(probability)} likely that both are right."


def core_frame(setup: SetUp, frame: FrameDocument) -> Frame:
    """A frame of a set-up. Raises Refused, Unreadable, OutOfRange."""
    dialled = frame.dialled
    camera = setup.camera
    settings = Settings(
        camera.shutters.nearest(dials.shutter_stops(dialled.shutter)),
        dials.aperture_dial(camera.dial_steps).nearest(dials.aperture_stops(dialled.aperture)),
        dials.iso_dial().nearest(dials.iso_stops(dialled.iso)),
        _stack(setup, dialled),
    )
    powers = {}
    for name, power in dialled.powers.items():
        place = place_of(setup, name)
        light = setup.lights[place]
        mark = light.full_mark if light.scale == "decimal" else None
        text = power if isinstance(power, str) else f"{power:g}"
        powers[place] = -dials.iso_stops(100 * read_power(text, mark, light.energy_ws))
    distances = {place_of(setup, name): distance for name, distance in dialled.distances.items()}
    if dialled.compensation is not None and setup.intent.school != "auto":
        raise Refused("dialled.compensation", "is for automatic flash: intent.flash.school is not auto")
    seen = tuple(one.core(setup) for one in frame.seen)
    found = Dialled(settings, powers, dialled.hss, distances, dialled.compensation)
    return Frame(
        frame.minute,
        frame.flash,
        found,
        seen,
        frame.fault or "",
        frozenset(frame.not_faults),
        wanted=frozenset(frame.wanted),
    )


def _stack(setup: SetUp, dialled: DialledDocument) -> Stack:
    if not dialled.filters:
        return NO_FILTER
    known = [item.name for item in setup.filters]
    for name in dialled.filters:
        if name not in known:
            raise Refused("dialled.filters", f"there is no filter ‘{name}’ in the set-up")
    places = tuple(known.index(name) for name in dialled.filters)
    least = sum(setup.filters[place].least for place in places)
    stops = least if dialled.nd_stops is None else dialled.nd_stops
    for stack in setup.stacks:
        if stack.places == places and abs(stack.stops - stops) < TOLERANCE:
            return stack
    return Stack(tuple(dialled.filters), stops, places)


def _offsets(setup: SetUp, estimate: Estimate) -> dict[str, Known]:
    found = {zone: _known(estimate.daylight_offset(zone)) for zone in estimate.unknowns.zones}
    for index, light in enumerate(setup.lights):
        found[light.name or light.role] = _known(estimate.offset(f"light {index}"))
    for key in ("toll", "filters"):
        found[key] = _known(estimate.offset(key))
    return found


def _known(found: tuple[float, float]) -> Known:
    value, uncertainty = found
    return Known(value=value, uncertainty=uncertainty)


def _suspected(found: Diagnosis) -> list[SuspectedDocument]:
    return [
        SuspectedDocument(fault=one.fault.key, probability=one.probability, check=one.fault.check)
        for one in found.suspected
    ]


def _next(setup: SetUp, change: Change) -> NextDocument:
    light = None if change.light is None else setup.lights[change.light].says
    return NextDocument(
        control=change.control,
        light=light,
        to=change.to,
        dialled=dialled_document(setup, change.dialled),
        expected=dict(change.expected),
    )


def dialled_document(setup: SetUp, dialled: Dialled) -> dict[str, Any]:
    """What is dialled, as a frame of the document has it."""
    settings, lights = dialled.settings, setup.lights
    found: dict[str, Any] = {
        "shutter": settings.shutter.label,
        "aperture": float(settings.aperture.label),
        "iso": float(settings.iso.label),
        "filters": list(settings.stack.names),
        "powers": {
            lights[place].says: power_label(down, lights[place].scale, lights[place].full_mark)
            for place, down in dialled.powers.items()
        },
        "hss": dialled.hss,
    }
    if settings.stack.variable:
        found["nd_stops"] = settings.stack.stops
    if dialled.compensation is not None:
        found["compensation"] = dialled.compensation
    if dialled.distances:
        found["distances"] = {lights[place].says: far for place, far in dialled.distances.items()}
    return found
