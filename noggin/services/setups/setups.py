"""Use cases of set-ups. Store, clock and devices are passed in."""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from typing import Any

from noggin.core.advice.cautions import MATTERS, Caution, weighed
from noggin.core.advice.comparison import Difference, comparison
from noggin.core.advice.derivations import DERIVATIONS, Derivation, Step
from noggin.core.advice.details import details
from noggin.core.advice.flash_first import FlashFirst, daylight_words, flash_first, lens_words
from noggin.core.advice.price import price
from noggin.core.advice.reasons import against_others, decided, lesson, reasons, share_words, verdict
from noggin.core.advice.remedies import Remedy, first_enough, remedies, remedies_of, remedy_label
from noggin.core.advice.remedy_case import Spares
from noggin.core.advice.states import states
from noggin.core.advice.white_balance import colour_rows
from noggin.core.errors import NogginError, Refused
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Plan, Way
from noggin.core.planning.ways import WAYS
from noggin.core.setup.setup import SetUp
from noggin.core.typed.parse_quantities import read_power
from noggin.core.wording import listed
from noggin.demo import starting_document
from noggin.documents.gear import LightItem
from noggin.documents.paths import path_of
from noggin.documents.plan import PlanDocument, plan_document
from noggin.documents.setup import canonical, setup_of, setup_of_text
from noggin.forms.change import changed, with_estimate, with_light, without_frames, without_light
from noggin.forms.choices import BY_CLASS, Choices, chosen, measured_for
from noggin.forms.entry import Document, Entry
from noggin.forms.layout_change import canonical_with_layout
from noggin.forms.setup_entries import entries_of
from noggin.forms.spares import spares_of
from noggin.services.clock import Clock
from noggin.services.gear.bags import choices_for
from noggin.services.gear.compatibility import setup_conflicts
from noggin.services.gear.kit import open_gear, put_light_in_kit
from noggin.services.keeping import kept
from noggin.services.keeping.form import Pending
from noggin.services.keeping.kept import Entries, Kind
from noggin.services.keeping.results import PAGE_SIZE, keep_result, plan_of_text
from noggin.store.repository import KeptDocument, UndoStep
from noggin.store.store import Store

__all__ = [
    "SETUPS",
    "NoSuchRemedy",
    "OpenSetUp",
    "Plan",
    "SetUp",
    "Way",
    "add_light",
    "aperture_at",
    "change_setup",
    "copy_setup",
    "enter",
    "example",
    "flash_words",
    "import_setup",
    "latest_setup",
    "new_setup",
    "nudge",
    "open_setup",
    "pin",
    "put_in_kit",
    "recent",
    "remove_light",
    "revision_of",
    "try_remedy",
    "undo_corrections",
    "use_estimate",
]

NAME_KEPT = 100
"""Characters of a name that its copy keeps, so that there is room to say that it is one."""


class NoSuchRemedy(NogginError, LookupError):
    """No such remedy helps this way now."""


@dataclass(frozen=True)
class MeasuredInstead:
    """A light of the kit that was measured and may stand for a light of its class: the light's place in the
    set-up, the key of the choice, what it is called, its guide number, and that of the class."""

    index: int
    key: str
    name: str
    gn_m: float
    class_gn_m: float


@dataclass(frozen=True)
class OpenSetUp:
    """A set-up on the Bench: as kept, planned, and what was typed that could not be taken.

    `undo` and `redo` say what can be taken back and done again, `pinned` is the plan to compare with, and
    `waited` are the figures that waited before this answer, `limit` what a step went no farther for.
    `choices` is what can be chosen.
    """

    id: int
    document: Mapping[str, Any]
    plan: Plan
    pending: Mapping[str, Pending]
    entries: Mapping[str, Entry]
    revision: int
    undo: UndoStep | None = None
    redo: UndoStep | None = None
    pinned: Plan | None = None
    waited: frozenset[str] = frozenset()
    limit: str = ""
    choices: Choices = BY_CLASS

    @property
    def conflicts(self) -> tuple[str, ...]:
        """What of its gear does not go together, in words."""
        return setup_conflicts(self.document, self.setup, self.choices)

    @property
    def setup(self) -> SetUp:
        """The set-up that was planned."""
        return self.plan.setup

    @property
    def helps(self) -> Remedy | None:
        """What would make the way that is spoken of work, where it does not, with what is owned."""
        return None if self.plan.shown.feasible else first_enough(self.remedies(self.plan.shown.key))

    @cached_property
    def _helping(self) -> dict[str, tuple[Remedy, ...]]:
        return {}

    @cached_property
    def spares(self) -> Spares:
        """What is owned beside what the set-up uses."""
        return spares_of(self.document, self.setup, self.choices)

    @property
    def advice(self) -> str:
        """Which way is recommended, with its margin and price; or which comes closest, and what would mend
        it."""
        return verdict(self.plan, self.helps)

    @property
    def measured_instead(self) -> tuple[MeasuredInstead, ...]:
        """Lights of the kit that were measured, where the set-up has their class."""
        return tuple(self._measured_instead())

    def _measured_instead(self) -> Iterator[MeasuredInstead]:
        for index, light in enumerate(self.document["lights"]):
            of_class = chosen(self.choices.lights, light, self.document, light)
            found = None if of_class.startswith("kit:") else measured_for(self.choices, of_class)
            if found is not None:
                yield MeasuredInstead(index, *found, light["gn_m"])

    @property
    def assumed(self) -> str:
        """What of the daylight nobody has read yet, as a sentence; empty where all of it was."""
        stated = self.document["scene"].get("uncertainty") or {}
        zones = [zone for zone in ("background", "subject") if stated.get(zone) == "assumed"]
        if not zones:
            return ""
        named = listed([{"background": "the background", "subject": "the faces"}[zone] for zone in zones])
        return f"Assumed: daylight on {named}. Read it, or give place and time."

    @property
    def corrected(self) -> str:
        """By how many frames its figures were corrected, and when, and how it was shot in the end, in
        sentences; empty where by none."""
        mark = self.document.get("corrected")
        if not mark:
            return ""
        frames, at = mark["frames"], datetime.fromisoformat(mark["at"])
        said = f"Corrected by {frames} frame{'s' if frames != 1 else ''} at {at:%H:%M}."
        return f"{said} Shot so: {mark['shot']}." if mark.get("shot") else said

    @property
    def against_others(self) -> str:
        """Why the other ways come after it, and which rule put it first."""
        return " ".join([*against_others(self.plan), decided(self.plan)]).strip()

    @property
    def states(self) -> Mapping[str, str]:
        """What stands in each group of figures, in a line."""
        return states(self.setup)

    def price(self, way: Way) -> str:
        """What a way costs."""
        return price(self.setup, way)

    def share_words(self, way: Way) -> str:
        """What flash by share does to a backlit face; empty where that is no concern."""
        return share_words(self.setup, way)

    @property
    def lesson(self) -> str:
        """What the comparison teaches."""
        return lesson(self.plan)

    def reasons(self, way: Way) -> tuple[str, ...]:
        """Why a way's figures are what they are."""
        return reasons(self.setup, way)

    def details(self, way: Way) -> tuple[tuple[str, str], ...]:
        """What else there is to know of a way, label and answer."""
        return (*details(self.setup, way), *colour_rows(self.setup, way))

    def cautions(self, way: Way) -> tuple[tuple[Caution, ...], tuple[Caution, ...]]:
        """What to watch out for in a way: what matters most, and the rest."""
        found = weighed(self.setup, way)
        return found[:MATTERS], found[MATTERS:]

    def derivation(self, key: str, row: str) -> tuple[Derivation, tuple[Step, ...]]:
        """How a row of the table comes about in one way, and its steps. Raises KeyError."""
        derivation = DERIVATIONS[row]
        return derivation, tuple(derivation.steps(self.setup, self.plan.way(key)))

    @property
    def compared(self) -> tuple[Difference, ...]:
        """What changed against the pinned version."""
        return comparison(self.pinned, self.plan) if self.pinned else ()

    def in_kit(self, light: str) -> str:
        """The name in the kit of a light of the set-up; empty where it is not in the kit."""
        item = self.choices.along.named(LightItem, light)
        return item.name if item else ""

    def remedies(self, key: str) -> tuple[Remedy, ...]:
        """What would help one way; worked out once."""
        if key not in self._helping:
            self._helping[key] = remedies_of(self.setup, self.plan.way(key), self.spares)
        return self._helping[key]

    def plan_document(self) -> PlanDocument:
        """The plan with the remedies of every way, as an open document."""
        return plan_document(self.plan, remedies(self.plan, self.spares), self.document.get("notes"))


def _entries(store: Store) -> Entries:
    """The figures of set-ups; what a bag offers is asked for once."""
    choices: dict[str, Choices] = {}

    def entries(document: Document) -> Mapping[str, Entry]:
        bag = document.get("bag", "")
        if bag not in choices:
            choices[bag] = choices_for(store, document)
        return entries_of(document, choices[bag])

    return entries


SETUPS = Kind("setup", _entries, canonical_with_layout, own_names=False, after=keep_result)


def open_setup(store: Store, setup_id: int) -> OpenSetUp:
    """One set-up. Raises NotKept."""
    with store.read_transaction():
        return _opened(store, store.setups.get(setup_id))


def revision_of(store: Store, setup_id: int) -> int:
    """Which revision of a set-up is kept. Raises NotKept."""
    with store.read_transaction():
        return int(store.setups.peek(setup_id).revision)


def latest_setup(store: Store) -> int | None:
    """The number of the set-up worked on last; None where there is none."""
    return store.setups.latest()


def recent(store: Store, including: int | None = None) -> tuple[tuple[int, str], ...]:
    """Number and name of the set-ups worked on last, and of one that is wanted in any case."""
    with store.read_transaction():
        rows = list(store.setups.newest(PAGE_SIZE))
        if including is not None and including not in {number for number, _ in rows}:
            rows.append((including, str(store.setups.get(including).document["name"])))
    return tuple(rows)


def example() -> OpenSetUp:
    """A set-up to show to someone who has none: a fresh one, which is not kept."""
    document = starting_document()
    return OpenSetUp(0, document, plan(setup_of(document)), {}, entries_of(document, BY_CLASS), 0)


def new_setup(store: Store, clock: Clock) -> int:
    """Keep a fresh set-up that can be planned at once, and give its number."""
    return kept.add(store, clock, SETUPS, starting_document()).id


def enter(store: Store, clock: Clock, setup_id: int, key: str, text: str) -> OpenSetUp:
    """Take what was typed for one figure. Raises NotKept, NoSuchFigure."""
    with store.write_transaction():
        waited = frozenset(store.setups.peek(setup_id).waiting)
        after = kept.enter(store, clock, SETUPS, setup_id, key, text)
        return replace(_opened(store, after), waited=waited)


def nudge(store: Store, clock: Clock, setup_id: int, key: str, by: int) -> OpenSetUp:
    """Move one figure by so many steps of its dial. Raises NotKept, NoSuchFigure."""
    with store.write_transaction():
        after, limit = kept.nudge(
            store, clock, SETUPS, setup_id, key, by, lambda document: setup_of(dict(document))
        )
        return replace(_opened(store, after), limit=limit)


def aperture_at(opened: OpenSetUp, text: str) -> FlashFirst:
    """The aperture that a power of the key, as typed, gives, and the time that follows from it. Raises
    Unreadable, OutOfRange."""
    key = opened.setup.key
    mark = key.full_mark if key.scale == "decimal" else None
    return flash_first(opened.setup, read_power(text, mark, key.energy_ws))


def flash_words(opened: OpenSetUp, found: FlashFirst) -> tuple[str, ...]:
    """What the lens and the shutter then make of it, in sentences."""
    said = (lens_words(found), daylight_words(opened.setup, found))
    return tuple(words for words in said if words)


def try_remedy(store: Store, clock: Clock, setup_id: int, way: str, remedy: str) -> OpenSetUp:
    """Make a remedy's change; taking it back is undoing it. Raises NotKept, NoSuchRemedy."""

    def change(document: Document) -> Document:
        now = plan(setup_of(dict(document)))
        spares = spares_of(document, now.setup, choices_for(store, document))
        helping = remedies_of(now.setup, now.way(way), spares) if way in WAYS else ()
        found = next((helps for helps in helping if helps.key == remedy), None)
        if found is None:
            raise NoSuchRemedy("That no longer helps: the set-up has changed.")
        return changed(document, found.change)

    return change_setup(store, clock, setup_id, f"tried: {remedy_label(remedy)}", change)


def add_light(store: Store, clock: Clock, setup_id: int, role: str, like: int | None = None) -> OpenSetUp:
    """One more light, like another or like the key. Raises NotKept, Refused."""
    label = f"{role} light added"
    return change_setup(store, clock, setup_id, label, lambda document: with_light(document, role, like))


def remove_light(store: Store, clock: Clock, setup_id: int, index: int) -> OpenSetUp:
    """One light less; not the key. Raises NotKept, Refused."""
    return change_setup(
        store, clock, setup_id, "light removed", lambda document: without_light(document, index)
    )


def use_estimate(store: Store, clock: Clock, setup_id: int) -> OpenSetUp:
    """Every zone as the day's light gives it at place and time. Raises NotKept, Refused."""
    return change_setup(store, clock, setup_id, "zones estimated", with_estimate)


def undo_corrections(store: Store, clock: Clock, setup_id: int) -> OpenSetUp:
    """Everything that frames corrected as it was before them. Raises NotKept."""
    return change_setup(
        store,
        clock,
        setup_id,
        "correction by frames taken back",
        lambda document: canonical_with_layout(without_frames(document)),
    )


def pin(store: Store, clock: Clock, setup_id: int, pinned: bool) -> OpenSetUp:
    """Keep the present version to compare with, or let it go. Raises NotKept."""
    with store.write_transaction():
        after = store.setups.pin(setup_id, pinned, clock())
        keep_result(store, after)
        return _opened(store, after)


def copy_setup(store: Store, clock: Clock, setup_id: int) -> int:
    """A copy under a name that says so; its number. Raises NotKept."""
    with store.write_transaction():
        document = dict(store.setups.get(setup_id).document)
        document["name"] = f"{document['name'][:NAME_KEPT]}, copy"
        return kept.add(store, clock, SETUPS, document).id


def put_in_kit(store: Store, clock: Clock, setup_id: int, index: int) -> int:
    """A light as it was typed into a set-up, into the kit to be measured there; the set-up's light goes by
    the name it has in the kit. Its number in the kit. Raises NotKept, Refused."""
    with store.write_transaction():
        lights = setup_of_text(store.setups.get(setup_id).text).lights
        if not 0 <= index < len(lights):
            raise Refused("lights", f"there is no light {index + 1}")
        number = put_light_in_kit(store, clock, lights[index])
        name = open_gear(store, number).name
        path = path_of(("lights", index, "name"))
        if lights[index].name != name:
            change_setup(
                store, clock, setup_id, "light put into the kit", lambda it: changed(it, {path: name})
            )
        return number


def import_setup(store: Store, clock: Clock, found: Document) -> int:
    """Keep a parsed set-up document as a new set-up, and give its number. Raises BadDocument."""
    return kept.add(store, clock, SETUPS, canonical(found)).id


def change_setup(
    store: Store, clock: Clock, setup_id: int, label: str, change: Callable[[Document], Document]
) -> OpenSetUp:
    """A change that is not an entry, as one step; what waits beside figures stays. Raises NotKept."""
    with store.write_transaction():
        return _opened(store, kept.act(store, clock, SETUPS, setup_id, label, change))


def _opened(store: Store, document: KeptDocument) -> OpenSetUp:
    item = kept.opened(store, SETUPS, document)
    return OpenSetUp(
        item.id,
        item.document,
        plan_of_text(document.text),
        item.pending,
        item.entries,
        item.revision,
        item.undo,
        item.redo,
        plan(setup_of(dict(document.pinned))) if document.pinned else None,
        choices=choices_for(store, document.document),
    )
