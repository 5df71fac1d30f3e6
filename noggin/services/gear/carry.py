"""How bright a light of the kit is over distance, through every modifier that fits it."""

from noggin.core.gear.carry import Carried
from noggin.core.units import Metres
from noggin.demo import starting_document
from noggin.services.gear.bags import choices_for
from noggin.store.store import Store

TABLED: tuple[Metres, ...] = (1.0, 2.0, 4.0, 8.0)
"""Distances whose apertures are written out."""


def carried(store: Store, light: str) -> tuple[Carried, ...]:
    """A light of the kit by its name through everything in the kit that fits it, the least loss first;
    empty where it is not there."""
    document = starting_document()
    along = choices_for(store, document)
    choice = next((choice for choice in along.lights.values() if choice.label == light), None)
    if choice is None:
        return ()
    part = choice.part(document, {})
    made = [(modifier.label, modifier.part(document, part)) for modifier in along.modifiers.values()]
    found = [
        Carried(label, part["gn_m"], through["loss"], through["radius_m"], part["hss_toll"])
        for label, through in made
    ]
    return tuple(sorted(found, key=lambda one: one.loss))
