"""Loading the demo."""

from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from noggin.demo import (
    demo_documents,
    demo_file,
    demo_kit,
    demo_places,
    demo_shoot,
    demo_stems,
    demo_takes,
)
from noggin.documents.log import read_entry
from noggin.services.clock import Clock
from noggin.services.day.shoot_document import import_shoot
from noggin.services.frames.frame_tags import tags_of, words_of
from noggin.services.frames.spot import blank_take
from noggin.services.gear.kit_document import import_kit
from noggin.services.keeping import kept
from noggin.services.setups.setups import SETUPS
from noggin.store.repository import KeptDocument
from noggin.store.store import Store

DEMO_LOADED = "demo loaded"


def load_demo_once(store: Store, clock: Clock) -> bool:
    """Load the demo unless that was done before, all of it or nothing; says whether it was loaded now."""
    with store.write_transaction():
        if store.marked(DEMO_LOADED):
            return False
        _load(store, clock)
        return True


def start_demo_over(store: Store, clock: Clock, aside: Path) -> None:
    """Copy the database aside, then put the demo in the place of everything in it."""
    store.copy_to(aside)
    with store.write_transaction():
        store.clear()
        _load(store, clock)


def _load(store: Store, clock: Clock) -> None:
    store.mark(DEMO_LOADED)
    now = clock()  # one instant for all, so that the first of the day is listed first
    setups = {
        stem: kept.add(store, lambda: now, SETUPS, document)
        for stem, document in zip(demo_stems(), demo_documents(), strict=True)
    }
    for jpeg in demo_places():
        store.photographs.put(jpeg)
    import_kit(store, clock, demo_kit())
    import_shoot(store, clock, demo_shoot())
    for shot in demo_takes():
        _load_take(store, setups[shot["setup"]], shot)


def _load_take(store: Store, setup: KeptDocument, shot: dict[str, Any]) -> None:
    known = {name: shot[name] for name in ("lesson", "pops", "learned")}
    document = blank_take(setup.document, shot["way"]) | known
    take = store.takes.begin(setup.id, document, datetime.fromisoformat(shot["begun"]).astimezone(UTC))
    for found in shot["frames"]:
        entry = read_entry(found)
        store.frames.add(
            datetime.fromisoformat(entry.taken),
            found,
            tuple(tags_of(entry, take)),
            words_of(entry),
            take_id=take.id,
            sha256=entry.sha256,
            jpeg=demo_file(entry.file or ""),
        )
