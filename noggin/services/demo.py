"""Loading the demo."""

from pathlib import Path

from noggin.demo import demo_documents, demo_kit
from noggin.services.clock import Clock
from noggin.services.kit_document import import_kit
from noggin.store.kept import Store

DEMO_LOADED = "demo loaded"


def load_demo_once(store: Store, clock: Clock) -> bool:
    """Load the demo unless that was done before; says whether it was loaded now."""
    loaded = store.load_once(DEMO_LOADED, {"setup": demo_documents()}, clock())
    if loaded:
        import_kit(store, clock, demo_kit())
    return loaded


def start_demo_over(store: Store, clock: Clock, aside: Path) -> None:
    """Copy the database aside, then put the demo in the place of everything in it."""
    store.copy_to(aside)
    store.load_anew(DEMO_LOADED, {"setup": demo_documents()}, clock())
    import_kit(store, clock, demo_kit())
