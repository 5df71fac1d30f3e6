"""Use cases of reach: how far away every light through every modifier can be for a chosen picture."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import hypot, isinf
from typing import Any

from noggin.core.errors import Refused, Unreadable
from noggin.core.planning.candidates import surplus
from noggin.core.planning.reach import BareLight, ModifierFigures, farthest, flash_need
from noggin.core.setup.light import LightUncertainty
from noggin.core.units import Metres, Stops
from noggin.documents.fields import uncertainty_of
from noggin.documents.lights import LightUncertaintyDocument
from noggin.documents.problems import BadDocument
from noggin.documents.setup import canonical, setup_of
from noggin.forms.choices import Choices
from noggin.forms.entry import Document, Entry
from noggin.forms.setup_entries import entries_of
from noggin.services.clock import Clock
from noggin.services.gear.bags import choices_for
from noggin.services.keeping.form import Pending
from noggin.services.setups.setups import OpenSetUp, change_setup, open_setup
from noggin.store.store import Store

ASKED = ("ev_background", "ev_subject", "background_level", "subject_level", "aperture")
"""Figures of the picture that reach is asked for."""


@dataclass(frozen=True)
class Distance:
    """How far a light can be in one mode: metres, from `low` to `high` by what is known of the gear; or
    none, with what it says instead."""

    metres: Metres | None
    words: str = ""
    low: Metres = 0.0
    high: Metres = 0.0

    @property
    def endless(self) -> bool:
        """Whether no flash is needed at all."""
        return self.metres is not None and isinf(self.metres)


@dataclass(frozen=True)
class ReachRow:
    """One modifier on one light: their keys and names, and how far at sync and in high-speed sync."""

    light: str
    modifier: str
    modifier_name: str
    sync: Distance
    hss: Distance


@dataclass(frozen=True)
class Reach:
    """The whole table for one set-up's picture, as it was asked for. `texts` and `problems` are the figures
    as typed and what is wrong with them; `stands_m` is where the key is now."""

    opened: OpenSetUp
    entries: Mapping[str, Entry]
    texts: Mapping[str, str]
    problems: Mapping[str, Pending]
    lights: tuple[tuple[str, tuple[ReachRow, ...]], ...]
    stands_m: Metres
    past_sync: bool


def reach(store: Store, setup_id: int, bag: str | None, typed: Mapping[str, str]) -> Reach:
    """Farthest distances for a set-up's picture, its figures replaced by those typed, with the gear
    of a bag (None: the set-up's own). Raises NotKept."""
    with store.read_transaction():
        return _reach(store, setup_id, bag, typed)


def _reach(store: Store, setup_id: int, bag: str | None, typed: Mapping[str, str]) -> Reach:
    opened = open_setup(store, setup_id)
    start = dict(opened.document) if bag is None else {**opened.document, "bag": bag}
    along = choices_for(store, start)
    entries = entries_of(start, along)
    document, problems = _asked(start, entries, typed)
    setup = setup_of(dict(document))
    rows = tuple((choice.label, _rows(document, along, key)) for key, choice in along.lights.items())
    past = bool(surplus(setup))
    texts = {key: typed.get(key, entries[key].text(document)) for key in ASKED}
    return Reach(opened, entries, texts, problems, rows, setup.key.distance_m, past)


def _asked(
    document: Document, entries: Mapping[str, Entry], typed: Mapping[str, str]
) -> tuple[Document, Mapping[str, Pending]]:
    """The set-up with the figures that were typed; those that cannot be taken, with the reasons."""
    problems = {}
    for key in ASKED:
        text = typed.get(key)
        if text is None or text == entries[key].text(document):
            continue
        try:
            document = canonical(entries[key].put(document, entries[key].parsed(text)))
        except Unreadable as error:
            problems[key] = Pending(text, str(error))
        except Refused as error:
            problems[key] = Pending(text, error.problem)
        except BadDocument as error:
            problems[key] = Pending(text, error.problems[0].problem)
    return document, problems


def _rows(document: Document, along: Choices, light: str) -> tuple[ReachRow, ...]:
    part = along.lights[light].part(document, {})
    source = BareLight(part["gn_m"], part["hss_toll"])
    made = {key: choice.part(document, part) for key, choice in along.modifiers.items()}
    setup = setup_of(dict(document))
    need = flash_need(setup, setup.scene.background, setup.scene.subject)

    def row(key: str, through: Document) -> ReachRow:
        found = farthest(setup, need, source, ModifierFigures(through["loss"], through["radius_m"]))
        sync = _far(found.sync_m, _uncertainty(part, through, hss=False))
        hss = _far(found.hss_m, _uncertainty(part, through, hss=True))
        return ReachRow(light, key, along.modifiers[key].label, sync, hss)

    return tuple(row(key, through) for key, through in made.items())


def _uncertainty(light: Document, modifier: Document, *, hss: bool) -> Stops:
    """± of a light through a modifier in stops, added as squares."""
    known = LightUncertaintyDocument.model_validate(light["uncertainty"] | {"loss": 0.0}).core()
    loss = modifier["uncertainty"]["loss"]
    parts = [known.gn, known.toll if hss else 0.0]
    if modifier["loss"]:
        parts.append(LightUncertainty.loss if loss is None else uncertainty_of(loss))
    return hypot(*parts)


def _far(distance: Metres | None, uncertainty: Stops) -> Distance:
    if distance is None:
        return Distance(None, "cannot")
    if distance == 0:
        return Distance(None, "too weak")
    # Two stops are a doubling of the distance.
    low, high = distance * 2 ** (-uncertainty / 2), distance * 2 ** (uncertainty / 2)
    return Distance(distance, "no flash needed" if isinf(distance) else "", low, high)


def open_from_reach(
    store: Store,
    clock: Clock,
    setup_id: int,
    bag: str | None,
    typed: Mapping[str, str],
    light: str,
    modifier: str,
) -> OpenSetUp:
    """Put a cell of the table on the Bench: picture, light and modifier, as one step. The light stays where
    it stands. Raises NotKept, Refused."""
    with store.write_transaction():
        start = dict(open_setup(store, setup_id).document)
        if bag is not None:
            start["bag"] = bag
        along = choices_for(store, start)
        if light not in along.lights or modifier not in along.modifiers:
            raise Refused("light", "that light or modifier is no longer in the bag")
        label = f"from reach: {along.lights[light].label}"
        change = _onto_bench(along, bag, typed, light, modifier)
        return change_setup(store, clock, setup_id, label, change)


def _onto_bench(
    along: Choices, bag: str | None, typed: Mapping[str, str], light: str, modifier: str
) -> Callable[[Document], Document]:
    """What puts picture, light and modifier into a set-up."""

    def change(document: Document) -> Document:
        changed: dict[str, Any] = dict(document)
        if bag is not None:
            changed["bag"] = bag
        asked, _ = _asked(changed, entries_of(changed, along), typed)
        roles = [found["role"] for found in asked["lights"]]
        index, entries = roles.index("key"), entries_of(asked, along)
        with_light = canonical(entries[f"class-{index}"].put(asked, light))
        return canonical(entries[f"modifier-{index}"].put(with_light, modifier))

    return change
