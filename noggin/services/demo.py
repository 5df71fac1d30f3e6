"""Loading the demo."""

from pathlib import Path

from noggin.demo import demo_documents, demo_kit, demo_shoot
from noggin.services.clock import Clock
from noggin.services.kit_document import import_kit
from noggin.services.shoot_document import import_shoot
from noggin.store.kept import Store

DEMO_LOADED = "demo loaded"


def load_demo_once(store: Store, clock: Clock) -> bool:
    """Load the demo unless that was done before; says whether it was loaded now."""
    loaded = store.load_once(DEMO_LOADED, {"setup": demo_documents()}, clock())
    if loaded:
        _load_the_rest(store, clock)
    return loaded


def start_demo_over(store: Store, clock: Clock, aside: Path) -> None:
    """Copy the database aside, then put the demo in the place of everything in it."""
    store.copy_to(aside)
    store.load_anew(DEMO_LOADED, {"setup": demo_documents()}, clock())
    _load_the_rest(store, clock)


def _load_the_rest(store: Store, clock: Clock) -> None:
    import_kit(store, clock, demo_kit())
    import_shoot(store, clock, demo_shoot())
