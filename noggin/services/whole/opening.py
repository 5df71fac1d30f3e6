"""Opening the database."""

from pathlib import Path

from noggin.services.clock import Clock, system_clock
from noggin.services.keeping.results import bring_up_to_date
from noggin.services.whole.readable import set_aside_unreadable
from noggin.store.claim import claimed
from noggin.store.store import Store

__all__ = ["Store", "claimed", "make_ready", "open_store"]


def open_store(path: Path, clock: Clock = system_clock) -> Store:
    """The store on a file, made or brought up to date as needed, with what it keeps of planning. Raises
    StoreTooNew, StoreUnreadable."""
    store = Store.on_file(path, clock())
    make_ready(store)
    return store


def make_ready(store: Store) -> None:
    """Look through what a store holds, as it was found: what cannot be read is set aside, what planning
    gives is brought up to date."""
    set_aside_unreadable(store)
    bring_up_to_date(store)
