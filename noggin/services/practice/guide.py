"""The guide: the order of work over the Bench and the spot of one set-up, as far as its figures are
there."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from noggin.core.errors import Refused
from noggin.core.practice.guide_steps import GUIDE_STEPS, GuideStep
from noggin.demo import starting_document
from noggin.services.clock import Clock
from noggin.services.frames.take import OpenTake, open_take
from noggin.services.setups.setups import new_setup
from noggin.store.store import Store

__all__ = ["Guide", "begin", "begin_with_a_new_one", "close", "guide_over", "say_done"]


def _changed(*path: str) -> Callable[[OpenTake], bool]:
    """Whether a figure of the document is another one than a fresh set-up has."""

    def there(take: OpenTake) -> bool:
        return bool(_part(take.now.document, path) != _part(starting_document(), path))

    return there


def _part(document: Mapping[str, Any], path: tuple[str, ...]) -> Any:
    part: Any = document
    for name in path:
        part = part.get(name) if isinstance(part, Mapping) else None
    return part


def _light_placed(take: OpenTake) -> bool:
    """Whether somebody said where the key is, or what is before it."""
    fresh = starting_document()["lights"]
    return "plan" in take.now.document["scene"] or take.now.document["lights"] != fresh


def _with_flash(take: OpenTake) -> bool:
    return any(frame.flash for frame in take.frames)


def _looked_at(take: OpenTake) -> bool:
    return any(frame.flash and frame.seen for frame in take.frames)


THERE: Mapping[str, Callable[[OpenTake], bool]] = {
    "composition": _changed("scene", "subject_distance_m"),
    "daylight": lambda take: not take.now.assumed,
    "background": _changed("intent", "background_level"),
    "way": lambda take: bool(take.frames),
    "light": _light_placed,
    "without_flash": lambda take: bool(take.frames),
    "with_flash": lambda take: _with_flash(take) or (bool(take.frames) and not take.needs_flash),
    "look": lambda take: _looked_at(take) or (bool(take.frames) and not take.needs_flash),
    "change": lambda take: bool(take.frames) and take.done,
}
"""Whether the figure of a step is there, by its key."""


def _is_there(step: GuideStep, take: OpenTake) -> bool:
    """Whether a step's figure is there; whoever took a frame is past the Bench."""
    return THERE[step.key](take) or (step.page == "bench" and bool(take.frames))


@dataclass(frozen=True)
class Guide:
    """The guide over a set-up: the step one is at (None: all is done), and those that are done."""

    take: OpenTake
    done: frozenset[str]
    step: GuideStep | None

    @property
    def steps(self) -> tuple[GuideStep, ...]:
        """Every step."""
        return GUIDE_STEPS

    @property
    def number(self) -> int:
        """Which step one is at, from 1."""
        return GUIDE_STEPS.index(self.step) + 1 if self.step else len(GUIDE_STEPS)


def guide_over(store: Store, clock: Clock, setup_id: int, wanted: str = "") -> Guide | None:
    """The guide over a set-up; None where it is closed. `wanted` is a step that somebody wants to read
    again. Raises NotKept."""
    kept = store.guides.of(setup_id)
    if not kept.is_on:
        return None
    take = open_take(store, clock, setup_id)
    done = frozenset(step.key for step in GUIDE_STEPS if step.key in kept.said or _is_there(step, take))
    at = next((step for step in GUIDE_STEPS if step.key not in done), None)
    return Guide(take, done, next((step for step in GUIDE_STEPS if step.key == wanted), at))


def begin(store: Store, setup_id: int) -> None:
    """Lay the guide over a set-up, where it was left. Raises NotKept."""
    store.setups.get(setup_id)
    store.guides.put(setup_id, is_on=True, said=store.guides.of(setup_id).said)


def begin_with_a_new_one(store: Store, clock: Clock) -> int:
    """A fresh set-up with the guide over it: its number."""
    with store.write_transaction():
        setup_id = new_setup(store, clock)
        store.guides.put(setup_id, is_on=True, said=())
    return setup_id


def close(store: Store, setup_id: int) -> None:
    """Put the guide away; where one was is remembered."""
    store.guides.put(setup_id, is_on=False, said=store.guides.of(setup_id).said)


def say_done(store: Store, setup_id: int, step: str) -> None:
    """Go on from a step though its figure is as it was. Raises NotKept, Refused."""
    if step not in THERE:
        raise Refused("step", f"'{step}' is none of {', '.join(THERE)}")
    store.setups.get(setup_id)
    kept = store.guides.of(setup_id)
    store.guides.put(setup_id, is_on=kept.is_on, said={*kept.said, step})
