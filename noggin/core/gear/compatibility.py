"""Does it fit? Body, trigger and light for high-speed sync; filters on lenses and on one another; groups
and channels. Each answer says what fits, how far, and why not.

High-speed sync is a chain: body, trigger, receiver and light must all be able to do it, and the trigger
must speak the body's flash system. One link that cannot leaves pops up to sync speed. Common practice,
no source.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from string import ascii_uppercase

from noggin.core import limits
from noggin.core.physics.filters import Filter, Ring, goes_on, rings_between
from noggin.core.setup.camera import Lens
from noggin.core.setup.light import Light
from noggin.core.wording import listed, number

GRADES = {"fits": "fits", "limited": "fits, but", "not": "does not fit", "unknown": "not known"}
"""How well things fit."""

TRIGGER_PARTS = {"transmitter": "transmitter, on the camera", "receiver": "receiver, on a light"}
"""What a trigger is for."""


@dataclass(frozen=True)
class Compatibility:
    """How well the named things fit (a key of GRADES), what that means in words, and why it is no
    better."""

    names: tuple[str, ...]
    grade: str
    words: str
    reasons: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        limits.check_choice("grade", self.grade, GRADES)

    @property
    def clean(self) -> bool:
        """Whether everything is fine."""
        return self.grade == "fits"


@dataclass(frozen=True)
class Body:
    """A camera body: label of its sync speed, whether it can do high-speed sync, the flash system that
    its shoe speaks ("" unknown)."""

    name: str
    sync: str
    hss: bool
    system: str = ""


@dataclass(frozen=True)
class Trigger:
    """A transmitter on the camera: the flash system of shoe it is made for ("" any, by the middle contact
    alone), the radio system it speaks, whether it can do high-speed sync, how many groups and channels."""

    name: str
    system: str
    shoe: str = ""
    hss: bool = True
    groups: int = 5
    channels: int = 32


@dataclass(frozen=True)
class Receiver:
    """A receiver for a light that has none built in."""

    name: str
    system: str
    hss: bool = True


@dataclass(frozen=True)
class Head:
    """A light: whether it can do high-speed sync, and the radio system built in ("" none)."""

    name: str
    hss: bool
    system: str = ""


def fires(body: Body, trigger: Trigger, head: Head, receivers: Sequence[Receiver] = ()) -> Compatibility:
    """Whether a light is fired by a trigger on a body, and up to which time.

    >>> body, radio = Body("Body", "1/200", True, "A"), Trigger("Radio", "R", "A")
    >>> found = fires(body, radio, Head("Head", False, "R"))
    >>> found.words, found.reasons
    ('up to 1/200 s', ('Head has no high-speed sync',))
    """
    names = (body.name, trigger.name, head.name)
    receiver: Receiver | None = None
    if head.system != trigger.system or not head.system:
        matching = [found for found in receivers if found.system == trigger.system]
        if not matching:
            speaks = f"listens to {head.system}" if head.system else "has no receiver built in"
            reason = f"{head.name} {speaks} and there is no receiver for {trigger.system}"
            return Compatibility(names, "not", "will not fire", (reason,))
        receiver = max(matching, key=lambda found: found.hss)
    through = f", through {receiver.name}" if receiver else ""
    broken = tuple(_broken(body, trigger, head, receiver))
    if broken:
        return Compatibility(names, "limited", f"up to {body.sync} s{through}", broken)
    return Compatibility(names, "fits", f"high-speed sync{through}")


def _broken(body: Body, trigger: Trigger, head: Head, receiver: Receiver | None) -> Iterator[str]:
    """Links of the chain that cannot do high-speed sync, in words."""
    if not body.hss:
        yield f"{body.name} has no high-speed sync"
    if not trigger.hss:
        yield f"{trigger.name} has none, and its delay can cost a third of a stop of sync speed"
    elif body.hss and not (trigger.shoe and trigger.shoe == body.system):
        made = f"is made for {trigger.shoe}" if trigger.shoe else "reads no flash system"
        own = body.system or "unknown"
        yield f"{trigger.name} {made}, {body.name}'s system is {own}: the camera falls back to sync speed"
    if receiver and not receiver.hss:
        yield f"{receiver.name} has no high-speed sync"
    if not head.hss:
        yield f"{head.name} has no high-speed sync"


def screws_on(item: Filter, lens: Lens, rings: Sequence[Ring] = ()) -> Compatibility:
    """Whether a filter goes on a lens, with one ring or two where its thread is another.

    >>> lens = Lens(85, 1.8, 16, "85 mm", thread_mm=67)
    >>> screws_on(Filter("ND", 3, 3, thread_mm=82), lens, [Ring("67-82", 67, 82)]).words
    'with 67-82'
    """
    names = (item.name, lens.name)
    if item.thread_mm is None or lens.thread_mm is None:
        which = lens.name if lens.thread_mm is None else item.name
        return Compatibility(names, "unknown", f"the thread of {which} is not known")
    chain = rings_between(lens.thread_mm, item.thread_mm, rings)
    if chain is None:
        problem = f"needs a ring {number(lens.thread_mm)} → {number(item.thread_mm)} mm"
        return Compatibility(names, "not", problem)
    if not chain:
        return Compatibility(names, "fits", f"{number(lens.thread_mm)} mm on both")
    with_rings = f"with {listed([ring.name for ring in chain])}"
    if item.thread_mm < lens.thread_mm:
        problem = f"{with_rings}, smaller than the lens: the corners go dark"
        return Compatibility(names, "limited", problem)
    return Compatibility(names, "fits", with_rings)


def stack_up(bag: Sequence[Filter], rings: Sequence[Ring] = ()) -> tuple[Compatibility, ...]:
    """Pairs of filters that cannot be used together, or only with a ring between them, and why. The planner
    stacks by the same rule, `filters.goes_on`."""
    return tuple(found for pair in combinations(bag, 2) for found in _pair(*pair, rings))


def _pair(item: Filter, other: Filter, rings: Sequence[Ring]) -> Iterator[Compatibility]:
    names = (item.name, other.name)
    if item.variable and other.variable:
        problem = "two variable filters cross each other: bands and colour"
        yield Compatibility(names, "not", problem)
    elif item.polarises and other.polarises:
        problem = "a variable filter is made of polarisers, and another one shifts it at will"
        yield Compatibility(names, "not", problem)
    elif item.thread_mm is None or other.thread_mm is None or item.thread_mm == other.thread_mm:
        return
    elif not goes_on(None, (item, other), rings):
        small, large = sorted((item.thread_mm, other.thread_mm))
        problem = f"needs a ring {number(small)} → {number(large)} mm between them, the larger one in front"
        yield Compatibility(names, "not", problem)


def addressed(lights: Sequence[Light], trigger: Trigger) -> tuple[Compatibility, ...]:
    """Groups and channels of the lights of one set-up that their trigger does not have, or that clash."""
    return tuple(_clashes(lights, trigger))


def _clashes(lights: Sequence[Light], trigger: Trigger) -> Iterator[Compatibility]:
    letters = ascii_uppercase[: trigger.groups]
    for light in lights:
        names = (light.says, trigger.name)
        if light.group and light.group not in letters:
            yield Compatibility(
                names, "not", f"{trigger.name} has groups A to {letters[-1]}, not {light.group}"
            )
        if light.channel is not None and light.channel > trigger.channels:
            problem = f"{trigger.name} has channels 1 to {trigger.channels}, not {light.channel}"
            yield Compatibility(names, "not", problem)
    channels = sorted({light.channel for light in lights if light.channel is not None})
    if len(channels) > 1:
        apart = tuple(light.says for light in lights if light.channel is not None)
        stand = listed([str(channel) for channel in channels])
        yield Compatibility(apart, "not", f"they stand on channels {stand}: one trigger reaches one")
    without = [light.says for light in lights if not light.group]
    if len(lights) > 1 and without:
        problem = "without a group its power cannot be set on its own from the camera"
        yield Compatibility(tuple(without), "limited", problem)
