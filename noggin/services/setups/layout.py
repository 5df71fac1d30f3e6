"""Where everything of a set-up stands: opened, moved, arranged by intention."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from noggin.core.advice.layout_words import (
    Note,
    layout_words,
    light_notes,
    scrim_notes,
    sun_notes,
    surface_notes,
    where,
    wind_notes,
)
from noggin.core.errors import Refused
from noggin.core.layout.findings import Standing
from noggin.core.layout.intentions import BY_KEY, INTENTIONS, arranged, lacks
from noggin.core.layout.moves import (
    mirrored,
    with_cable,
    with_person,
    with_reflector,
    with_scrim,
    with_wall,
)
from noggin.core.layout.scrim import held_back
from noggin.core.layout.standing import layout_of, names_of, sun_over
from noggin.core.setup.layout import Layout
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops
from noggin.documents.setup import setup_of
from noggin.documents.written import SetUpWritten, set_up_copy
from noggin.forms.change import with_light
from noggin.forms.entry import Document
from noggin.forms.layout_change import bare_setup, layout_in, with_layout
from noggin.services.clock import Clock
from noggin.services.setups.hours import DayOfSetUp, HourShown, day_of, in_that_light
from noggin.services.setups.layout_figures import (
    LayoutRow,
    NoSuchThing,
    index_of,
    moved,
    row_of_light,
    rows_of_others,
)
from noggin.services.setups.setups import OpenSetUp, change_setup, open_setup
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
    row: LayoutRow
    where: str
    notes: tuple[Note, ...]


@dataclass(frozen=True)
class OtherNotes:
    """Something else on the list: the figures that move it, and what is said of it."""

    row: LayoutRow
    notes: tuple[Note, ...]


@dataclass(frozen=True)
class OpenLayout:
    """A set-up's plan, opened: where everything stands and what geometry says of it."""

    opened: OpenSetUp
    standing: Standing
    shown: HourShown | None = None

    @cached_property
    def day(self) -> DayOfSetUp | None:
        """Its day; None where nobody said where and when. Another hour than its own may be `shown`."""
        return self.shown.day if self.shown else day_of(self.opened.setup)

    @property
    def given(self) -> bool:
        """Whether somebody said where things stand; else they stand where the figures put them."""
        return self.standing.setup.scene.layout is not None

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
    def others(self) -> tuple[OtherNotes, ...]:
        """What else stands there: people, surfaces, scrim, cables, the camera; and the wind."""
        rows = rows_of_others(self.standing.layout)
        return tuple(OtherNotes(row, self._notes_of(row.item)) for row in rows)

    def _notes_of(self, item: str) -> tuple[Note, ...]:
        kind, _, index = item.partition(":")
        if kind == "surface":
            return tuple(surface_notes(self.standing, int(index)))
        return tuple(scrim_notes(self.standing)) if kind == "scrim" else ()

    @property
    def spoils(self) -> tuple[tuple[str, Note], ...]:
        """What matters, with whose it is."""
        found = [(light.name, note) for light in self.lights for note in light.notes if note.matters]
        found += [("Scrim", note) for note in scrim_notes(self.standing) if note.matters]
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
        return layout_words(self.standing)


def open_layout(store: Store, setup_id: int) -> OpenLayout:
    """The plan of a set-up. Raises NotKept."""
    opened = open_setup(store, setup_id)
    return OpenLayout(opened, Standing(opened.setup))


def at_hour(view: OpenLayout, step: int) -> OpenLayout:
    """The plan in the light of a step of its day; as it is where nobody said where and when."""
    if view.day is None or step == view.day.step_of(view.day.now):
        return view
    shown = view.day.at_step(step)
    return OpenLayout(in_that_light(view.opened, shown), Standing(shown.setup), shown)


def preview(store: Store, setup_id: int, item: str, figures: Mapping[str, str]) -> OpenLayout:
    """The plan as it would be with something moved; nothing is kept. Raises NotKept, NoSuchThing, Refused,
    Unreadable."""
    opened = open_setup(store, setup_id)
    there = moved(Standing(opened.setup), item, figures)
    return OpenLayout(opened, Standing(setup_of(with_layout(opened.document, there))))


def _act(
    store: Store, clock: Clock, setup_id: int, label: str, change: Callable[[Layout, SetUp], Layout]
) -> OpenLayout:
    def changed(document: Document) -> SetUpWritten:
        layout, setup = layout_in(document), setup_of(dict(document))
        return _under_scrim(with_layout(document, change(layout, setup)), setup)

    opened = change_setup(store, clock, setup_id, label, changed)
    return OpenLayout(opened, Standing(opened.setup))


def _under_scrim(document: SetUpWritten, before: SetUp) -> SetUpWritten:
    """A document whose daylight on the subject is what its scrim leaves of it: what a scrim takes off more
    than before comes off the readings of face and rim, and what it takes less comes back."""
    after = setup_of(document)
    more = _held(after) - _held(before)
    zones = document["scene"]["ev100"]
    for zone in ("subject", "rim"):
        ev = zones.get(zone)
        if more and ev is not None:
            zones[zone] = round(ev - more, 2)
    return document


def _held(setup: SetUp) -> Stops:
    layout = setup.scene.layout
    return held_back(layout, sun_over(setup, layout_of(setup))) if layout else 0.0


def move(store: Store, clock: Clock, setup_id: int, item: str, figures: Mapping[str, str]) -> OpenLayout:
    """Put a thing of the plan where figures say; those that are left out stay. Raises NotKept, NoSuchThing,
    Refused, and Unreadable for what is no figure."""
    return _act(
        store,
        clock,
        setup_id,
        f"{_called(item)} moved",
        lambda _, setup: moved(Standing(setup), item, figures),
    )


def arrange(store: Store, clock: Clock, setup_id: int, key: str) -> OpenLayout:
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


def mirror(store: Store, clock: Clock, setup_id: int) -> OpenLayout:
    """Everything on the other side of the camera's axis. Raises NotKept."""
    return _act(store, clock, setup_id, "plan mirrored", lambda layout, _: mirrored(layout))


def add(store: Store, clock: Clock, setup_id: int, kind: str) -> OpenLayout:
    """One more person, wall, reflector or scrim. Raises NotKept, NoSuchThing, Refused."""
    if kind not in ADDED:
        raise NoSuchThing(f"{kind} cannot be added to a plan.")
    return _act(store, clock, setup_id, f"{kind} added", ADDED[kind])


def lead_cable(store: Store, clock: Clock, setup_id: int, item: str) -> OpenLayout:
    """Lead a light's cable away. Raises NotKept, NoSuchThing."""
    name = item.partition(":")[2]

    def led(layout: Layout, _: SetUp) -> Layout:
        if name not in layout.lights:
            raise NoSuchThing("That light does not stand on this plan any more.")
        return with_cable(layout, name)

    return _act(store, clock, setup_id, f"cable of {name}", led)


def copy_light(store: Store, clock: Clock, setup_id: int, item: str) -> OpenLayout:
    """One more light like one of them, on the other side of the camera's axis; a key's copy is a fill.
    Raises NotKept, NoSuchThing, Refused."""

    def changed(document: Document) -> SetUpWritten:
        setup, name = setup_of(dict(document)), item.partition(":")[2]
        names = names_of(setup)
        if name not in names:
            raise NoSuchThing("That light does not stand on this plan any more.")
        index, layout = names.index(name), layout_in(document)
        role = setup.lights[index].role
        more = with_light(document, "fill" if role == "key" else role, index)
        spot = mirrored(layout).lights[name]
        added = names_of(bare_setup(more))[-1]
        return with_layout(more, replace(layout, lights={**layout.lights, added: spot}))

    opened = change_setup(store, clock, setup_id, f"{_called(item)} copied", changed)
    return OpenLayout(opened, Standing(opened.setup))


def remove(store: Store, clock: Clock, setup_id: int, item: str) -> OpenLayout:
    """One person, surface, scrim, cable or wind less. Raises NotKept, NoSuchThing, Refused."""
    return _act(
        store, clock, setup_id, f"{_called(item)} removed", lambda layout, _: _without(layout, item)
    )


def forget(store: Store, clock: Clock, setup_id: int) -> OpenLayout:
    """Let everything stand where the figures put it. Raises NotKept."""

    def changed(document: Document) -> SetUpWritten:
        there = set_up_copy(document)
        there["scene"]["plan"] = None
        return _under_scrim(there, setup_of(dict(document)))

    opened = change_setup(store, clock, setup_id, "plan let go", changed)
    return OpenLayout(opened, Standing(opened.setup))


def _called(item: str) -> str:
    kind, _, name = item.partition(":")
    return name if kind == "light" else kind


ADDED: dict[str, Callable[[Layout, SetUp], Layout]] = {
    "person": lambda layout, _: with_person(layout),
    "wall": lambda layout, _: with_wall(layout),
    "reflector": lambda layout, _: with_reflector(layout),
    "scrim": lambda layout, setup: with_scrim(layout, sun_over(setup, layout)),
}
"""What can be added to a plan."""


def _without(layout: Layout, item: str) -> Layout:
    kind, _, name = item.partition(":")
    if kind == "scrim":
        return replace(layout, scrim=None)
    if kind == "wind":
        return replace(layout, wind_deg=None)
    if kind == "cable" and name in layout.lights:
        return replace(layout, lights={**layout.lights, name: replace(layout.lights[name], cable=None)})
    if kind == "person":
        if len(layout.people) == 1:
            raise Refused("people", "someone must stand there")
        index = index_of(item, len(layout.people))
        return replace(layout, people=layout.people[:index] + layout.people[index + 1 :])
    if kind == "surface":
        index = index_of(item, len(layout.surfaces))
        return replace(layout, surfaces=layout.surfaces[:index] + layout.surfaces[index + 1 :])
    raise NoSuchThing("That cannot be taken off the plan; a light is removed on the Bench.")
