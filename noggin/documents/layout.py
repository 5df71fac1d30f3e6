"""The part of a set-up document that says where everything stands: `scene.plan`."""

from typing import Annotated, Any, Literal, TypeVar

from pydantic import BeforeValidator, Field

from noggin.core import limits
from noggin.core.errors import Refused
from noggin.core.setup import layout
from noggin.documents.fields import Name, Part, Within, pair
from noggin.documents.written import LayoutWritten

OnPlan = Annotated[float, Within(limits.ON_PLAN)]
Height = Annotated[float, Within(limits.PLAN_HEIGHT)]
AimHeight = Annotated[float, Within(limits.AIM_HEIGHT)]
PlanPoint = Annotated[tuple[OnPlan, OnPlan], BeforeValidator(pair)]
Aim = Annotated[tuple[OnPlan, OnPlan, AimHeight], BeforeValidator(pair)]


class CameraSpotDocument(Part):
    """Where the lens is."""

    x_m: OnPlan = 0.0
    y_m: OnPlan
    height_m: Height = layout.LENS_M


class PersonSpotDocument(Part):
    """Someone: where their eyes are, where they look (0 along the view back to the camera's side, 90 to its
    right), what they are and wear."""

    x_m: OnPlan
    y_m: OnPlan
    height_m: Height = layout.EYES_M
    turn_deg: Annotated[float, Within(limits.TURN)] = 0.0
    skin: Literal["fair", "medium", "brown", "deep"] | None = None
    wears: Literal["white dress", "dark suit", "mid-tone clothes"] | None = None
    role: Name = ""


class SurfaceDocument(Part):
    """An upright surface."""

    start: PlanPoint = Field(alias="from")
    end: PlanPoint = Field(alias="to")
    height_m: Height
    reflectance: Annotated[float, Within(limits.REFLECTANCE)]


class LightSpotDocument(Part):
    """Where a light's reference point is, its aim (null: the face it lights), and where on the ground its
    cable leads to (null: it has none)."""

    x_m: OnPlan
    y_m: OnPlan
    height_m: Height
    aim: Aim | None = None
    cable: PlanPoint | None = None


class ScrimDocument(Part):
    """A scrim held between sun and subject, square to the sun: its middle, half its width, and what it
    takes off the light that comes through."""

    x_m: OnPlan
    y_m: OnPlan
    height_m: Height
    radius_m: Annotated[float, Within(limits.SCRIM_RADIUS)]
    stops: Annotated[float, Within(limits.SCRIM_LOSS)]


class LayoutDocument(Part):
    """Where everything stands, in metres: the subject at the origin, the camera looking along +y, x to
    its right. Lights are named as in the set-up; one without a name by its role, and a second of a name
    "… 2". `wind_deg` is from where the wind comes, degrees off the camera's view, 90 from its right."""

    camera: CameraSpotDocument
    facing_deg: Annotated[float, Within(limits.AZIMUTH)] | None = None
    people: list[PersonSpotDocument] = Field(min_length=1, max_length=limits.FACES_MOST)
    surfaces: list[SurfaceDocument] = Field(default_factory=list, max_length=limits.SURFACES_MOST)
    lights: dict[Name, LightSpotDocument] = Field(default_factory=dict, max_length=limits.LIGHTS_MOST)
    scrim: ScrimDocument | None = None
    wind_deg: Annotated[float, Within(limits.TURN)] | None = None

    def core(self) -> layout.Layout:
        """The core's plan. Raises Refused."""
        return layout.Layout(
            layout.CameraSpot(**self.camera.model_dump()),
            tuple(
                _named(f"people[{index}]", layout.PersonSpot, _said(person))
                for index, person in enumerate(self.people)
            ),
            {name: layout.LightSpot(**spot.model_dump()) for name, spot in self.lights.items()},
            tuple(
                _named(f"surfaces[{index}]", layout.SurfaceLine, surface.model_dump())
                for index, surface in enumerate(self.surfaces)
            ),
            self.facing_deg,
            layout.ScrimSpot(**self.scrim.model_dump()) if self.scrim else None,
            self.wind_deg,
        )


def _said(person: PersonSpotDocument) -> dict[str, Any]:
    return {key: value for key, value in person.model_dump().items() if value is not None}


Made = TypeVar("Made")


def _named(owner: str, kind: type[Made], figures: dict[str, Any]) -> Made:
    try:
        return kind(**figures)
    except Refused as refusal:
        raise Refused(f"{owner}.{refusal.name}", refusal.problem) from None


def layout_written(stood: layout.Layout) -> LayoutWritten:
    """A plan as it is written into a document: millimetres and tenths of degrees."""
    return {
        "camera": {
            "x_m": round(stood.camera.x_m, 3),
            "y_m": round(stood.camera.y_m, 3),
            "height_m": round(stood.camera.height_m, 3),
        },
        "facing_deg": stood.facing_deg,
        "people": [
            {
                "x_m": round(person.x_m, 3),
                "y_m": round(person.y_m, 3),
                "height_m": round(person.height_m, 3),
                "turn_deg": round(person.turn_deg, 1),
                "skin": person.skin or None,
                "wears": person.wears or None,
                "role": person.role,
            }
            for person in stood.people
        ],
        "surfaces": [
            {
                "from": list(surface.start),
                "to": list(surface.end),
                "height_m": surface.height_m,
                "reflectance": surface.reflectance,
            }
            for surface in stood.surfaces
        ],
        "lights": {
            name: {
                "x_m": round(spot.x_m, 3),
                "y_m": round(spot.y_m, 3),
                "height_m": round(spot.height_m, 3),
                "aim": None if spot.aim is None else [round(value, 3) for value in spot.aim],
                "cable": None if spot.cable is None else [round(value, 3) for value in spot.cable],
            }
            for name, spot in stood.lights.items()
        },
        "scrim": None if stood.scrim is None else _scrim_written(stood.scrim),
        "wind_deg": stood.wind_deg,
    }


def _scrim_written(scrim: layout.ScrimSpot) -> dict[str, float]:
    return {
        "x_m": round(scrim.x_m, 3),
        "y_m": round(scrim.y_m, 3),
        "height_m": round(scrim.height_m, 3),
        "radius_m": round(scrim.radius_m, 3),
        "stops": scrim.stops,
    }
