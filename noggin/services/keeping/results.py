"""What planning gives for a set-up, kept beside it: lists show it without planning again."""

from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from functools import lru_cache
from typing import Any

from noggin.core.advice import way_table
from noggin.core.advice.details import clipping_level
from noggin.core.advice.remedies import first_help
from noggin.core.advice.verdict_words import first_lack, landing_words, move_words
from noggin.core.planning.lighting import Levels
from noggin.core.planning.plan import RULES_VERSION, plan
from noggin.core.planning.way import Plan
from noggin.core.units import EV100, Stops
from noggin.documents.setup import setup_of_text
from noggin.store.repository import KeptDocument, Listed, Page
from noggin.store.store import Store

AT_ONCE = 100
"""Results that are recomputed in one transaction."""

PAGE_SIZE = 50
"""Set-ups on a page of the list."""


@dataclass(frozen=True)
class Result:
    """What the list says of a set-up: what is there and meant, the recommended way with its verdict and
    where it lands when it is just there or the move it needs, or the closest one with what it lacks and
    what would mend it, as it is written; and the levels of that way, to be drawn."""

    background_ev: EV100
    subject_ev: EV100
    background_level: Stops
    subject_level: Stops
    wanted_aperture: str
    way: str
    label: str
    camera: str
    iso: str
    filters: str
    reserve: str
    verdict: str
    lands: str
    lacks: str
    mends: str
    clips_at: Stops
    levels: Levels


def result_of(worked_out: Plan) -> Result:
    """The result of a plan."""
    setup, way = worked_out.setup, worked_out.shown
    return Result(
        setup.scene.background,
        setup.scene.subject,
        setup.intent.background_level,
        setup.intent.subject_level,
        setup.wanted_aperture.label,
        way.key,
        way.label,
        way_table.camera_text(way),
        way.settings.iso.label,
        way_table.filter_text(way),
        way_table.reserve_text(way),
        way.verdict,
        f"with {move_words(way.mend)}" if way.mend else landing_words(way),
        "" if way.advisable else first_lack(way),
        _mends(worked_out),
        clipping_level(setup, way),
        way.lighting.levels,
    )


def _mends(worked_out: Plan) -> str:
    """What would make the closest way work, where none does; what is owned is not looked through."""
    found = first_help(worked_out)
    return found.to if found else ""


def read_result(found: Mapping[str, Any]) -> Result:
    """A result as it was kept."""
    known = {field.name: found[field.name] for field in fields(Result)}
    return Result(**{**known, "levels": Levels(**found["levels"])})


@lru_cache(maxsize=256)
def plan_of_text(text: str) -> Plan:
    """The plan of the set-up in a document's text."""
    return plan(setup_of_text(text))


def forget_plans() -> None:
    """Keep no plan in memory."""
    plan_of_text.cache_clear()


def keep_result(store: Store, kept: KeptDocument) -> None:
    """Keep what planning gives for a set-up at its present revision."""
    store.results.put(kept, RULES_VERSION, asdict(result_of(plan_of_text(kept.text))))


def bring_up_to_date(store: Store) -> int:
    """Recompute what is missing or came from other rules, some at a time; how many that were."""
    count = 0
    while store.results.stale("setup", RULES_VERSION, 1):
        # Read again under the lock: another program may have changed or removed them since.
        with store.write_transaction():
            stale = store.results.stale("setup", RULES_VERSION, AT_ONCE)
            for kept in stale:
                keep_result(store, kept)
        count += len(stale)
    return count


@dataclass(frozen=True)
class ListedSetUp:
    """A set-up in the list."""

    id: int
    name: str
    result: Result


def listed(
    store: Store, offset: int = 0, find: str = "", most: int = PAGE_SIZE
) -> tuple[tuple[ListedSetUp, ...], int | None]:
    """A page of the list of set-ups, and where the next one begins (None: this is the last). Where a result
    is not there, as while another program writes, it is worked out for this page alone."""
    page: Page = store.setups.page(most, offset, find)
    missing = [row.id for row in page.rows if row.result is None]
    texts = store.setups.texts(missing) if missing else {}
    return tuple(_listed(row, texts) for row in page.rows), page.next_offset


def _listed(row: Listed, texts: Mapping[int, str]) -> ListedSetUp:
    result = read_result(row.result) if row.result else result_of(plan_of_text(texts[row.id]))
    return ListedSetUp(row.id, row.name, result)
