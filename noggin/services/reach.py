"""Use cases of reach: how far away every light through every modifier may stand for a chosen picture."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot, isinf, isnan
from typing import Any

from noggin.core.errors import Refused, Unreadable
from noggin.core.light import Trusted
from noggin.core.reach import Shaper, Source, farthest
from noggin.core.units import Metres, Stops
from noggin.documents.entries import entries_of
from noggin.documents.entry import Document, Entry
from noggin.documents.faults import BadDocument
from noggin.documents.fields import plus_minus
from noggin.documents.light import Known
from noggin.documents.offered import Offered
from noggin.documents.setup import normal, setup_of
from noggin.services.bags import offered
from noggin.services.clock import Clock
from noggin.services.entering import Pending
from noggin.services.setups import Opened, act_on, open_setup
from noggin.store.kept import Store

ASKED = ("ev_background", "ev_subject", "background_level", "subject_level", "aperture")
"""Figures of the picture that reach is asked for."""


@dataclass(frozen=True)
class Far:
    """How far a light may stand in one mode: metres, from `low` to `high` by what is known of the gear; or
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
class Row:
    """One modifier on one light: their keys and names, and how far at sync and in high-speed sync."""

    light: str
    modifier: str
    modifier_name: str
    sync: Far
    hss: Far


@dataclass(frozen=True)
class Reach:
    """The whole table for one set-up's picture, as it was asked for. `texts` and `problems` are the figures
    as typed and what is wrong with them; `stands_m` is where the key stands now."""

    opened: Opened
    entries: Mapping[str, Entry]
    texts: Mapping[str, str]
    problems: Mapping[str, Pending]
    lights: tuple[tuple[str, tuple[Row, ...]], ...]
    stands_m: Metres
    past_sync: bool


def reach(store: Store, setup_id: int, bag: str | None, typed: Mapping[str, str]) -> Reach:
    """Farthest distances for a set-up's picture, its figures replaced by those typed, with the gear
    of a bag (None: the set-up's own). Raises NotKept."""
    opened = open_setup(store, setup_id)
    start = dict(opened.document) if bag is None else {**opened.document, "bag": bag}
    along = offered(store, start)
    entries = entries_of(start, along)
    document, problems = _asked(start, entries, typed)
    setup = setup_of(dict(document))
    rows = tuple((choice.label, _rows(document, along, key)) for key, choice in along.lights.items())
    meant = setup.scene.background - setup.intent.background_level
    past = meant - setup.camera.sync.stops > setup.wanted_aperture.stops - setup.camera.iso_low.stops
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
            document = normal(entries[key].put(document, entries[key].parsed(text)))
        except Unreadable as error:
            problems[key] = Pending(text, str(error))
        except Refused as error:
            problems[key] = Pending(text, error.problem)
        except BadDocument as error:
            problems[key] = Pending(text, error.faults[0].problem)
    return document, problems


def _rows(document: Document, along: Offered, light: str) -> tuple[Row, ...]:
    part = along.lights[light].part(document, {})
    source = Source(part["gn_m"], part["hss_toll"])
    made = {key: choice.part(document, part) for key, choice in along.modifiers.items()}
    shapers = [Shaper(one["loss"], one["radius_m"]) for one in made.values()]
    setup = setup_of(dict(document))
    grid = farthest(setup, [source], shapers, [(setup.scene.background, setup.scene.subject)])
    return tuple(
        Row(
            light,
            key,
            along.modifiers[key].label,
            *(_far(float(grid[0, at, mode, 0]), _off(part, through, hss=mode == 1)) for mode in (0, 1)),
        )
        for at, (key, through) in enumerate(made.items())
    )


def _off(light: Document, modifier: Document, *, hss: bool) -> Stops:
    """± of a light through a modifier in stops, added as squares."""
    trusted = Known.model_validate(light["uncertainty"] | {"loss": 0.0}).core()
    loss = modifier["uncertainty"]["loss"]
    parts = [trusted.gn, trusted.toll if hss else 0.0]
    if modifier["loss"]:
        parts.append(Trusted.loss if loss is None else plus_minus(loss))
    return hypot(*parts)


def _far(distance: float, off: Stops) -> Far:
    if isnan(distance):
        return Far(None, "cannot")
    if distance == 0:
        return Far(None, "too weak")
    # Two stops are a doubling of the distance.
    low, high = distance * 2 ** (-off / 2), distance * 2 ** (off / 2)
    return Far(distance, "no flash needed" if isinf(distance) else "", low, high)


def open_from_reach(
    store: Store,
    clock: Clock,
    setup_id: int,
    bag: str | None,
    typed: Mapping[str, str],
    light: str,
    modifier: str,
) -> Opened:
    """Put a cell of the table on the Bench: picture, light and modifier, as one step. The light stays where
    it stands. Raises NotKept, Refused."""
    start = dict(open_setup(store, setup_id).document)
    if bag is not None:
        start["bag"] = bag
    along = offered(store, start)
    if light not in along.lights or modifier not in along.modifiers:
        raise Refused("light", "that light or modifier is not in the bag any more")

    def act(document: Document) -> Document:
        changed: dict[str, Any] = dict(document)
        if bag is not None:
            changed["bag"] = bag
        asked, _ = _asked(changed, entries_of(changed, along), typed)
        at = next(at for at, one in enumerate(asked["lights"]) if one["role"] == "key")
        entries = entries_of(asked, along)
        with_light = normal(entries[f"class-{at}"].put(asked, light))
        return normal(entries[f"modifier-{at}"].put(with_light, modifier))

    return act_on(store, clock, setup_id, f"from reach: {along.lights[light].label}", act)
