"""Use cases of set-ups. Store, clock and devices are passed in."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from random import Random
from typing import Any

from noggin.core.calibrate import Calibration, calibrate
from noggin.core.errors import NogginError, Refused, Unreadable
from noggin.core.plan import METHODS, Plan
from noggin.core.readings import read_readings, show_readings
from noggin.core.remedies import REMEDIES, Remedy, remedies_of
from noggin.core.setup import SetUp
from noggin.core.ways import plan
from noggin.demo import starting_document
from noggin.devices.meter import HiddenLight, SimulatedMeter
from noggin.documents.change import changed, with_estimate, with_light, with_measured, without_light
from noggin.documents.entries import LABELS, entries_of
from noggin.documents.entry import Document, Entry
from noggin.documents.offered import BY_CLASS, Offered
from noggin.documents.setup import normal, setup_of
from noggin.services.bags import offered
from noggin.services.clock import Clock
from noggin.services.entering import Form, NoSuchFigure, Pending
from noggin.services.fits import setup_fits
from noggin.store.kept import Kept, Step, Store


class NoSuchRemedy(NogginError, LookupError):
    """No such remedy helps this way now."""


@dataclass(frozen=True)
class Opened:
    """A set-up on the Bench: as kept, planned, and what was typed that could not be taken.

    `undo` and `redo` say what can be taken back and done again, `pinned` is the plan to compare with, and
    `waited` are the figures that waited before this answer. `offered` is what can be chosen.
    """

    id: int
    document: Mapping[str, Any]
    plan: Plan
    pending: Mapping[str, Pending]
    entries: Mapping[str, Entry]
    revision: int
    undo: Step | None = None
    redo: Step | None = None
    pinned: Plan | None = None
    waited: frozenset[str] = frozenset()
    offered: Offered = BY_CLASS

    @property
    def misfits(self) -> tuple[str, ...]:
        """What of its gear does not go together, in words."""
        return setup_fits(self.document, self.setup, self.offered)

    @property
    def setup(self) -> SetUp:
        """The set-up that was planned."""
        return self.plan.setup

    def remedies(self, way: str) -> tuple[Remedy, ...]:
        """What would help one way."""
        return remedies_of(self.setup, self.plan.way(way))


def all_setups(store: Store) -> tuple[Opened, ...]:
    """Every set-up with its plan, the one worked on last first."""
    return tuple(_opened(store, kept) for kept in store.setups.all())


def open_setup(store: Store, setup_id: int) -> Opened:
    """One set-up. Raises NotKept."""
    return _opened(store, store.setups.get(setup_id))


def latest_setup(store: Store) -> int | None:
    """The number of the set-up worked on last; None where there is none."""
    kept = store.setups.latest()
    return kept.id if kept else None


def example() -> Plan:
    """A plan to show to someone who has none: that of a fresh set-up."""
    return plan(setup_of(starting_document()))


def new_setup(store: Store, clock: Clock) -> int:
    """Keep a fresh set-up that can be planned at once, and give its number."""
    return store.setups.add(starting_document(), clock()).id


def enter(store: Store, clock: Clock, setup_id: int, key: str, text: str) -> Opened:
    """Take what was typed for one figure; keep it beside the figure when it cannot be taken.

    Figures that wait are tried again with every entry, for two that contradict the set-up alone may
    be right together. Raises NotKept, NoSuchFigure.
    """
    waited: set[str] = set()
    form = _form(store, setup_id)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        form.entry(kept.document, key)
        waited.update(kept.entries)
        return form.taken(kept.document, {**kept.entries, key: text}, newest=key)

    kept = store.setups.change(setup_id, change, clock(), Step(_label(key), key))
    return replace(_opened(store, kept), waited=frozenset(waited))


def step(store: Store, clock: Clock, setup_id: int, key: str, by: int) -> Opened:
    """Move one figure by so many steps of its dial. Raises NotKept, NoSuchFigure."""
    form = _form(store, setup_id)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        entry = form.entry(kept.document, key)
        if entry.stepped is None:
            raise NoSuchFigure(f"{entry.label} has no steps.")
        setup = setup_of(dict(kept.document))
        value = entry.value(kept.document)
        if value is None:
            value = entry.start_from(setup)
        moved = entry.show(entry.stepped(setup, value, by))
        return form.taken(kept.document, {**kept.entries, key: moved}, newest=key)

    return _opened(store, store.setups.change(setup_id, change, clock(), Step(_label(key), key)))


def undo(store: Store, clock: Clock, setup_id: int) -> Opened:
    """Take the last step back. Raises NotKept, NoSuchStep."""
    return _opened(store, store.setups.move(setup_id, -1, clock()))


def redo(store: Store, clock: Clock, setup_id: int) -> Opened:
    """Do again what was taken back. Raises NotKept, NoSuchStep."""
    return _opened(store, store.setups.move(setup_id, 1, clock()))


def try_remedy(store: Store, clock: Clock, setup_id: int, way: str, remedy: str) -> Opened:
    """Make a remedy's change; taking it back is undoing it. Raises NotKept, NoSuchRemedy."""

    def act(document: Document) -> Document:
        now = plan(setup_of(dict(document)))
        found = remedies_of(now.setup, now.way(way)) if way in METHODS else ()
        one = next((one for one in found if one.remedy == remedy), None)
        if one is None:
            raise NoSuchRemedy("That remedy does not help any more: the set-up has changed.")
        return changed(document, one.change)

    return act_on(store, clock, setup_id, f"tried: {REMEDIES.get(remedy, remedy)}", act)


def add_light(store: Store, clock: Clock, setup_id: int, role: str, like: int | None = None) -> Opened:
    """One more light, like another or like the key. Raises NotKept, Refused."""
    return act_on(
        store, clock, setup_id, f"{role} light added", lambda document: with_light(document, role, like)
    )


def remove_light(store: Store, clock: Clock, setup_id: int, at: int) -> Opened:
    """One light less; not the key. Raises NotKept, Refused."""
    return act_on(store, clock, setup_id, "light removed", lambda document: without_light(document, at))


def take_estimate(store: Store, clock: Clock, setup_id: int) -> Opened:
    """Every zone as the day's light gives it at place and time. Raises NotKept, Refused."""
    return act_on(store, clock, setup_id, "zones estimated", with_estimate)


@dataclass(frozen=True)
class Sheet:
    """A measuring sheet: the readings as written, the radius (None: unknown), whether a droop is looked
    for, and what they say or why not."""

    readings: str
    radius_m: float | None
    with_droop: bool
    said: Calibration | None = None
    problem: str = ""


def worked_out(opened: Opened, readings: str, radius_m: float | None, with_droop: bool) -> Sheet:
    """What readings of a light say."""
    sheet = Sheet(readings, radius_m, with_droop)
    try:
        read = read_readings(readings)
        said = calibrate(read, opened.setup.camera.sync.value, radius_m, with_droop=with_droop)
    except Unreadable as error:
        return replace(sheet, problem=str(error))
    except Refused as error:
        return replace(sheet, problem=f"{error.name}: {error.problem}")
    return replace(sheet, said=said)


def simulated_readings(opened: Opened, at: int, rng: Random) -> str:
    """Readings of a simulated light near what is believed of light number `at`, with 0.1 stop of noise:
    three at sync, and two in high-speed sync where the light can do it."""
    light = opened.setup.lights[at]
    truth = HiddenLight(
        light.gn_m * 2 ** (rng.gauss(0, 0.4) / 2),
        light.radius_m,
        (light.hss_toll or 0.0) + rng.gauss(0, 0.2),
        0.0,
        opened.setup.camera.sync.value,
    )
    meter = SimulatedMeter(truth, 0.1, rng)
    taken = [meter.read(distance, 1.0) for distance in (1.5, 2.5, 4.0)]
    if light.hss_toll is not None:
        taken += [meter.read(2.0, 1.0, time) for time in (1 / 500, 1 / 2000)]
    return show_readings(taken)


def accept_measured(store: Store, clock: Clock, setup_id: int, at: int, sheet: Sheet) -> Opened:
    """Take what the readings say as the light's figures; undoing takes it back. Raises Refused where they
    say nothing."""
    if sheet.said is None:
        raise Refused("readings", sheet.problem)
    said = sheet.said
    return act_on(
        store,
        clock,
        setup_id,
        "light measured",
        lambda document: with_measured(document, at, said, sheet.readings),
    )


def pin(store: Store, clock: Clock, setup_id: int, pinned: bool) -> Opened:
    """Keep the present version to compare with, or let it go. Raises NotKept."""
    return _opened(store, store.setups.pin(setup_id, pinned, clock()))


def copy_setup(store: Store, clock: Clock, setup_id: int) -> int:
    """A copy under a name that says so; its number. Raises NotKept."""
    document = dict(store.setups.get(setup_id).document)
    document["name"] = f"{document['name'][:100]}, copy"
    return store.setups.add(document, clock()).id


def remove_setup(store: Store, clock: Clock, setup_id: int) -> None:
    """Lay a set-up aside; it can be brought back. Raises NotKept."""
    store.setups.remove(setup_id, clock())


def bring_back(store: Store, clock: Clock, setup_id: int) -> int:
    """Bring back a set-up that was laid aside. Raises NotKept."""
    return store.setups.bring_back(setup_id, clock()).id


def removed_setups(store: Store) -> tuple[tuple[int, str], ...]:
    """Number and name of every set-up that was laid aside."""
    return tuple((kept.id, kept.document["name"]) for kept in store.setups.removed())


def import_setup(store: Store, clock: Clock, found: dict[str, Any]) -> int:
    """Keep a parsed set-up document as a new set-up, and give its number. Raises BadDocument."""
    return store.setups.add(normal(found), clock()).id


def act_on(
    store: Store, clock: Clock, setup_id: int, label: str, act: Callable[[Document], Document]
) -> Opened:
    """A change that is not an entry, as one step; what waits beside figures stays. Raises NotKept."""
    form = _form(store, setup_id)

    def change(kept: Kept) -> tuple[Document, Mapping[str, str]]:
        return form.changed(kept, act(kept.document))

    return _opened(store, store.setups.change(setup_id, change, clock(), Step(label)))


def _label(key: str) -> str:
    """What a figure is called; empty for one that no set-up has."""
    return LABELS.get(key.rpartition("-")[0] or key, "")


def _form(store: Store, setup_id: int) -> Form:
    """How a set-up is entered: with what its bag offers."""
    return _form_for(offered(store, store.setups.get(setup_id).document))


def _form_for(along: Offered) -> Form:
    return Form(lambda document: entries_of(document, along), normal)


def _opened(store: Store, kept: Kept) -> Opened:
    along = offered(store, kept.document)
    form = _form_for(along)
    return Opened(
        kept.id,
        kept.document,
        plan(setup_of(dict(kept.document))),
        form.pending(kept),
        form.entries(kept.document),
        kept.revision,
        kept.undo,
        kept.redo,
        plan(setup_of(dict(kept.pinned))) if kept.pinned else None,
        offered=along,
    )
