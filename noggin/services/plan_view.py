"""Where everything of a set-up stands: opened, moved, arranged by intention."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from noggin.core.errors import Refused
from noggin.core.plan_view.findings import Standing
from noggin.core.plan_view.intentions import BY_KEY, INTENTIONS, arranged, lacks
from noggin.core.plan_view.moves import mirrored, with_person, with_reflector, with_wall
from noggin.core.plan_view.standing import names_of
from noggin.core.plan_view.words import Note, light_notes, plan_words, sun_notes, where, wind_notes
from noggin.core.setup.ground_plan import GroundPlan
from noggin.core.setup.setup import SetUp
from noggin.documents.setup import setup_of
from noggin.forms.change import with_light
from noggin.forms.entry import Document
from noggin.forms.plan_change import bare_setup, plan_in, with_plan
from noggin.services.clock import Clock
from noggin.services.plan_figures import NoSuchThing, PlanRow, index_of, moved, row_of_light, rows_of_others
from noggin.services.setups import OpenSetUp, change_setup, open_setup
from noggin.store.store import Store


@dataclass(frozen=True)
class IntentionOffer:
    """A placement by intention as it is offered; `lacks` says why it cannot be had here."""

    key: str
    label: str
    line: str
    lacks: str


@dataclass(frozen=True)
class LightNotes:
    """A light on the list: its name, the figures that move it, where it stands in words, and what is
    said."""

    name: str
    row: PlanRow
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
            LightNotes(
                found.name,
                row_of_light(self.standing, found),
                where(found),
                tuple(light_notes(self.standing, found)),
            )
            for found in self.standing.lights
        )

    @property
    def others(self) -> tuple[PlanRow, ...]:
        """The figures of people, surfaces and the camera."""
        return rows_of_others(self.standing.plan)

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
    """The plan as it would be with something moved; nothing is kept. Raises NotKept, NoSuchThing, Refused,
    Unreadable."""
    opened = open_setup(store, setup_id)
    there = moved(Standing(opened.setup), item, figures)
    return PlanView(opened, Standing(setup_of(with_plan(opened.document, there))))


def _act(
    store: Store, clock: Clock, setup_id: int, label: str, change: Callable[[GroundPlan, SetUp], GroundPlan]
) -> PlanView:
    def changed(document: Document) -> dict[str, Any]:
        plan = plan_in(document)
        return with_plan(document, change(plan, setup_of(dict(document))))

    opened = change_setup(store, clock, setup_id, label, changed)
    return PlanView(opened, Standing(opened.setup))


def move(store: Store, clock: Clock, setup_id: int, item: str, figures: Mapping[str, str]) -> PlanView:
    """Put a thing of the plan where figures say; those that are left out stay. Raises NotKept, NoSuchThing,
    Refused, and Unreadable for what is no figure."""
    return _act(
        store,
        clock,
        setup_id,
        f"{_called(item)} moved",
        lambda _, setup: moved(Standing(setup), item, figures),
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
        index = index_of(item, len(plan.people))
        return replace(plan, people=plan.people[:index] + plan.people[index + 1 :])
    if kind == "surface":
        index = index_of(item, len(plan.surfaces))
        return replace(plan, surfaces=plan.surfaces[:index] + plan.surfaces[index + 1 :])
    raise NoSuchThing(
        "Only people and surfaces can be taken off the plan; a light is removed on the Bench."
    )
