"""Where everything of a set-up stands: opened, moved, arranged by intention."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from noggin.core.errors import NogginError, Refused
from noggin.core.plan_view.findings import Standing
from noggin.core.plan_view.intentions import BY_KEY, INTENTIONS, arranged, lacks
from noggin.core.plan_view.moves import (
    aimed_past,
    at_distance,
    mirrored,
    turned_round,
    with_person,
    with_reflector,
    with_wall,
)
from noggin.core.plan_view.standing import names_of
from noggin.core.plan_view.words import Note, light_notes, plan_words, sun_notes, where, wind_notes
from noggin.core.setup.ground_plan import GroundPlan, LightSpot, PersonSpot, SurfaceLine
from noggin.core.setup.setup import SetUp
from noggin.core.typed.parse_places import read_angle, read_percentage, read_place
from noggin.documents.setup import setup_of
from noggin.forms.change import with_light
from noggin.forms.entry import Document
from noggin.forms.plan_change import bare_setup, plan_in, with_plan
from noggin.services.clock import Clock
from noggin.services.setups import OpenSetUp, change_setup, open_setup
from noggin.store.store import Store


class NoSuchThing(NogginError, LookupError):
    """Nothing of that name stands on this plan."""


@dataclass(frozen=True)
class IntentionOffer:
    """A placement by intention as it is offered; `lacks` says why it cannot be had here."""

    key: str
    label: str
    line: str
    lacks: str


@dataclass(frozen=True)
class LightNotes:
    """A light on the list: its name, its index in the set-up, where it stands in words, and what is
    said."""

    name: str
    index: int
    where: str
    notes: tuple[Note, ...]


@dataclass(frozen=True)
class PlanView:
    """A set-up's plan, opened: where everything stands and what geometry says of it."""

    opened: OpenSetUp
    standing: Standing

    @property
    def given(self) -> bool:
        """Whether somebody said where things stand; else they stand where the figures put them."""
        return self.standing.setup.scene.plan is not None

    @property
    def lights(self) -> tuple[LightNotes, ...]:
        """What is said of every light."""
        return tuple(
            LightNotes(found.name, index, where(found), tuple(light_notes(self.standing, found)))
            for index, found in enumerate(self.standing.lights)
        )

    @property
    def spoils(self) -> tuple[tuple[str, Note], ...]:
        """What matters, with whose it is."""
        found = [(light.name, note) for light in self.lights for note in light.notes if note.matters]
        return (*found, *(("Sun", note) for note in self.sun if note.matters))

    @property
    def sun(self) -> tuple[Note, ...]:
        """What is said of sun and wind."""
        return (*sun_notes(self.standing), *wind_notes(self.standing))

    @property
    def offers(self) -> tuple[IntentionOffer, ...]:
        """Placements by intention."""
        return tuple(
            IntentionOffer(one.key, one.label, one.line, lacks(one, self.standing)) for one in INTENTIONS
        )

    @property
    def words(self) -> str:
        """The whole plan in words."""
        return plan_words(self.standing)


def open_plan(store: Store, setup_id: int) -> PlanView:
    """The plan of a set-up. Raises NotKept."""
    opened = open_setup(store, setup_id)
    return PlanView(opened, Standing(opened.setup))


def preview(store: Store, setup_id: int, item: str, figures: Mapping[str, str]) -> PlanView:
    """The plan as it would be with something moved; nothing is kept. Raises NotKept, NoSuchThing,
    Refused."""
    opened = open_setup(store, setup_id)
    moved = _moved(plan_in(opened.document), item, figures)
    setup = setup_of(with_plan(opened.document, moved))
    return PlanView(opened, Standing(setup))


def _act(
    store: Store, clock: Clock, setup_id: int, label: str, change: Callable[[GroundPlan, SetUp], GroundPlan]
) -> PlanView:
    def changed(document: Document) -> dict[str, Any]:
        plan = plan_in(document)
        return with_plan(document, change(plan, setup_of(dict(document))))

    opened = change_setup(store, clock, setup_id, label, changed)
    return PlanView(opened, Standing(opened.setup))


def move(store: Store, clock: Clock, setup_id: int, item: str, figures: Mapping[str, str]) -> PlanView:
    """Put a thing of the plan where figures say: `x`, `y`, `height`, `turn`, and for a light `distance` and
    `angle` and what it is aimed at; those that are left out stay. Raises NotKept, NoSuchThing, Refused, and
    Unreadable for what is no figure."""
    return _act(
        store, clock, setup_id, f"{_called(item)} moved", lambda plan, _: _moved(plan, item, figures)
    )


def arrange(store: Store, clock: Clock, setup_id: int, key: str) -> PlanView:
    """Put the lights where an intention wants them. Raises NotKept, NoSuchThing, Refused."""
    if key not in BY_KEY:
        raise NoSuchThing(f"There is no placement called {key}.")
    intention = BY_KEY[key]
    return _act(
        store,
        clock,
        setup_id,
        f"placed: {intention.label.lower()}",
        lambda _, setup: arranged(intention, Standing(setup)),
    )


def mirror(store: Store, clock: Clock, setup_id: int) -> PlanView:
    """Everything on the other side of the camera's axis. Raises NotKept."""
    return _act(store, clock, setup_id, "plan mirrored", lambda plan, _: mirrored(plan))


def add(store: Store, clock: Clock, setup_id: int, kind: str) -> PlanView:
    """One more person, wall or reflector. Raises NotKept, NoSuchThing, Refused."""
    if kind not in ADDED:
        raise NoSuchThing(f"{kind} cannot be added to a plan.")
    return _act(store, clock, setup_id, f"{kind} added", lambda plan, _: ADDED[kind](plan))


def copy_light(store: Store, clock: Clock, setup_id: int, item: str) -> PlanView:
    """One more light like one of them, on the other side of the camera's axis; a key's copy is a fill.
    Raises NotKept, NoSuchThing, Refused."""

    def changed(document: Document) -> dict[str, Any]:
        setup, name = setup_of(dict(document)), item.partition(":")[2]
        names = names_of(setup)
        if name not in names:
            raise NoSuchThing("That light does not stand on this plan any more.")
        index, plan = names.index(name), plan_in(document)
        role = setup.lights[index].role
        more = with_light(document, "fill" if role == "key" else role, index)
        spot = mirrored(plan).lights[name]
        added = names_of(bare_setup(more))[-1]
        return with_plan(more, replace(plan, lights={**plan.lights, added: spot}))

    opened = change_setup(store, clock, setup_id, f"{_called(item)} copied", changed)
    return PlanView(opened, Standing(opened.setup))


def remove(store: Store, clock: Clock, setup_id: int, item: str) -> PlanView:
    """One person or surface less. Raises NotKept, NoSuchThing, Refused."""
    return _act(store, clock, setup_id, f"{_called(item)} removed", lambda plan, _: _without(plan, item))


def forget(store: Store, clock: Clock, setup_id: int) -> PlanView:
    """Let everything stand where the figures put it. Raises NotKept."""

    def changed(document: Document) -> dict[str, Any]:
        return {**document, "scene": {**document["scene"], "plan": None}}

    opened = change_setup(store, clock, setup_id, "plan let go", changed)
    return PlanView(opened, Standing(opened.setup))


def _called(item: str) -> str:
    kind, _, name = item.partition(":")
    return name if kind == "light" else kind


def _index(item: str, count: int) -> int:
    text = item.partition(":")[2]
    if not text.isdecimal() or not 0 <= int(text) < count:
        raise NoSuchThing("That does not stand on this plan any more.")
    return int(text)


def _distance(figures: Mapping[str, str], key: str, now: float) -> float:
    text = figures.get(key, "")
    return read_place(text) if text.strip() else now


def _number(figures: Mapping[str, str], key: str, now: float) -> float:
    text = figures.get(key, "")
    return read_angle(text) if text.strip() else now


def _moved(plan: GroundPlan, item: str, figures: Mapping[str, str]) -> GroundPlan:
    kind, _, name = item.partition(":")
    if kind == "camera":
        camera = replace(
            plan.camera,
            x_m=0.0,
            y_m=min(_distance(figures, "y", plan.camera.y_m), -NEAREST_CAMERA_M),
            height_m=_distance(figures, "height", plan.camera.height_m),
        )
        facing = figures.get("facing", "").strip()
        turned = _number(figures, "facing", 0.0) % 360 if facing else plan.facing_deg
        return replace(plan, camera=camera, facing_deg=turned)
    if kind == "person":
        index = _index(item, len(plan.people))
        people = list(plan.people)
        people[index] = _person(people[index], figures)
        return replace(plan, people=tuple(people))
    if kind == "surface":
        index = _index(item, len(plan.surfaces))
        surfaces = list(plan.surfaces)
        surfaces[index] = _surface(surfaces[index], figures)
        return replace(plan, surfaces=tuple(surfaces))
    if kind != "light" or name not in plan.lights:
        raise NoSuchThing("That does not stand on this plan any more.")
    return replace(plan, lights={**plan.lights, name: _light(plan, plan.lights[name], figures)})


NEAREST_CAMERA_M = 0.3


def _person(person: PersonSpot, figures: Mapping[str, str]) -> PersonSpot:
    return replace(
        person,
        x_m=_distance(figures, "x", person.x_m),
        y_m=_distance(figures, "y", person.y_m),
        height_m=_distance(figures, "height", person.height_m),
        turn_deg=_number(figures, "turn", person.turn_deg),
    )


def _surface(surface: SurfaceLine, figures: Mapping[str, str]) -> SurfaceLine:
    """A surface moved by its middle, or resized along itself."""
    middle = (
        (surface.start[0] + surface.end[0]) / 2,
        (surface.start[1] + surface.end[1]) / 2,
    )
    by = (
        _distance(figures, "x", middle[0]) - middle[0],
        _distance(figures, "y", middle[1]) - middle[1],
    )
    reflects = figures.get("reflects", "").strip()
    return replace(
        surface,
        start=(round(surface.start[0] + by[0], 3), round(surface.start[1] + by[1], 3)),
        end=(round(surface.end[0] + by[0], 3), round(surface.end[1] + by[1], 3)),
        height_m=_distance(figures, "height", surface.height_m),
        reflectance=read_percentage(reflects) if reflects else surface.reflectance,
    )


def _light(plan: GroundPlan, spot: LightSpot, figures: Mapping[str, str]) -> LightSpot:
    """A light moved on the ground, in height, along its bearing or round the subject; aimed at the face, or
    past it by so many degrees."""
    found = replace(
        spot,
        x_m=_distance(figures, "x", spot.x_m),
        y_m=_distance(figures, "y", spot.y_m),
        height_m=_distance(figures, "height", spot.height_m),
    )
    if figures.get("angle", "").strip():
        found = turned_round(plan, found, _number(figures, "angle", 0.0))
    if figures.get("distance", "").strip():
        found = at_distance(plan, found, _distance(figures, "distance", 1.0))
    if figures.get("past", "").strip():
        found = replace(found, aim=aimed_past(plan, found, _number(figures, "past", 0.0)))
    return found


ADDED: dict[str, Callable[[GroundPlan], GroundPlan]] = {
    "person": with_person,
    "wall": with_wall,
    "reflector": with_reflector,
}
"""What can be added to a plan."""


def _without(plan: GroundPlan, item: str) -> GroundPlan:
    kind = item.partition(":")[0]
    if kind == "person":
        if len(plan.people) == 1:
            raise Refused("people", "someone must stand there")
        index = _index(item, len(plan.people))
        return replace(plan, people=plan.people[:index] + plan.people[index + 1 :])
    if kind == "surface":
        index = _index(item, len(plan.surfaces))
        return replace(plan, surfaces=plan.surfaces[:index] + plan.surfaces[index + 1 :])
    raise NoSuchThing(
        "Only people and surfaces can be taken off the plan; a light is removed on the Bench."
    )
