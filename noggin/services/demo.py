"""Loading the demo."""

from pathlib import Path

from noggin.demo import demo_documents, demo_kit, demo_shoot
from noggin.services import kept
from noggin.services.clock import Clock
from noggin.services.kit_document import import_kit
from noggin.services.setups import SETUPS
from noggin.services.shoot_document import import_shoot
from noggin.store.store import Store

DEMO_LOADED = "demo loaded"


def load_demo_once(store: Store, clock: Clock) -> bool:
    """Load the demo unless that was done before, all of it or nothing; says whether it was loaded now."""
    with store.writing():
        if store.marked(DEMO_LOADED):
            return False
        _load(store, clock)
        return True


def start_demo_over(store: Store, clock: Clock, aside: Path) -> None:
    """Copy the database aside, then put the demo in the place of everything in it."""
    store.copy_to(aside)
    with store.writing():
        store.clear()
        _load(store, clock)


def _load(store: Store, clock: Clock) -> None:
    store.mark(DEMO_LOADED)
    now = clock()  # one instant for all, so that the first of the day is listed first
    for document in demo_documents():
        kept.add(store, lambda: now, SETUPS, document)
    import_kit(store, clock, demo_kit())
    import_shoot(store, clock, demo_shoot())
