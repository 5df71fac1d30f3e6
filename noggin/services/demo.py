"""Loading the demo."""

from pathlib import Path

from noggin.demo import demo_documents
from noggin.services.clock import Clock
from noggin.store.kept import Store

DEMO_LOADED = "demo loaded"


def load_demo_once(store: Store, clock: Clock) -> bool:
    """Load the demo unless that was done before; says whether it was loaded now."""
    return store.load_once(DEMO_LOADED, {"setup": demo_documents()}, clock())


def start_demo_over(store: Store, clock: Clock, aside: Path) -> None:
    """Copy the database aside, then put the demo in the place of everything in it."""
    store.copy_to(aside)
    store.load_anew(DEMO_LOADED, {"setup": demo_documents()}, clock())
