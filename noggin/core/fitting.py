"""Does it fit? Body, trigger and light for high-speed sync; filters on lenses and on one another; groups
and channels. Each answer says what fits, how far, and why not.

High-speed sync is a chain: body, trigger, receiver and light must all be able to do it, and the trigger
must speak the body's flash system. One link that cannot leaves pops up to sync speed. Common practice,
no source.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, permutations
from string import ascii_uppercase

from noggin.core import limits
from noggin.core.light import Light
from noggin.core.wording import listed, number

GRADES = {"fits": "fits", "limited": "fits, but", "not": "does not fit", "unknown": "not known"}
"""How well things fit."""

FILTER_KINDS = {"fixed": "fixed ND", "variable": "variable ND", "polariser": "polariser"}
"""Kinds of filter. A variable one is two polarisers that turn against each other."""

TRIGGER_PARTS = {"transmitter": "transmitter, on the camera", "receiver": "receiver, on a light"}
"""What a trigger is for."""


@dataclass(frozen=True)
class Fit:
    """How well the named things fit (a key of GRADES), what that comes to in words, and why it is no
    better."""

    names: tuple[str, ...]
    grade: str
    words: str
    reasons: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        limits.check_choice("grade", self.grade, GRADES)

    @property
    def clean(self) -> bool:
        """Whether there is nothing to mind."""
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


@dataclass(frozen=True)
class Mount:
    """The filter thread of a lens in mm; None: not known, or it takes none."""

    name: str
    thread_mm: float | None


@dataclass(frozen=True)
class Glass:
    """A filter: its kind and thread in mm."""

    name: str
    kind: str
    thread_mm: float | None

    def __post_init__(self) -> None:
        limits.check_choice("filter kind", self.kind, FILTER_KINDS)


@dataclass(frozen=True)
class Ring:
    """A ring that screws into a lens and takes a filter; mm."""

    name: str
    lens_mm: float
    filter_mm: float


def fires(body: Body, trigger: Trigger, head: Head, receivers: Sequence[Receiver] = ()) -> Fit:
    """Whether a light is fired by a trigger on a body, and up to which time.

    >>> fit = fires(Body("Body", "1/200", True, "A"), Trigger("Radio", "R", "A"), Head("Head", False, "R"))
    >>> fit.words, fit.reasons
    ('up to 1/200 s', ('Head has no high-speed sync',))
    """
    names = (body.name, trigger.name, head.name)
    receiver: Receiver | None = None
    if head.system != trigger.system or not head.system:
        fitting = [one for one in receivers if one.system == trigger.system]
        if not fitting:
            speaks = f"listens to {head.system}" if head.system else "has no receiver built in"
            reason = f"{head.name} {speaks} and no receiver for {trigger.system} goes along"
            return Fit(names, "not", "will not fire", (reason,))
        receiver = max(fitting, key=lambda one: one.hss)
    through = f", through {receiver.name}" if receiver else ""
    broken = tuple(_broken(body, trigger, head, receiver))
    if broken:
        return Fit(names, "limited", f"up to {body.sync} s{through}", broken)
    return Fit(names, "fits", f"high-speed sync{through}")


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


def screws_on(glass: Glass, lens: Mount, rings: Sequence[Ring] = ()) -> Fit:
    """Whether a filter goes on a lens, with one ring or two where its thread is another.

    >>> screws_on(Glass("ND", "fixed", 82), Mount("85 mm", 67), [Ring("67-82", 67, 82)]).words
    'with 67-82'
    """
    names = (glass.name, lens.name)
    if glass.thread_mm is None or lens.thread_mm is None:
        which = lens.name if lens.thread_mm is None else glass.name
        return Fit(names, "unknown", f"the thread of {which} is not known")
    if glass.thread_mm == lens.thread_mm:
        return Fit(names, "fits", f"{number(lens.thread_mm)} mm on both")
    threads = f"{number(lens.thread_mm)} → {number(glass.thread_mm)} mm"
    chain = _rings_between(lens.thread_mm, glass.thread_mm, rings)
    if chain is None:
        return Fit(names, "not", f"needs a ring {threads}")
    with_rings = f"with {listed([ring.name for ring in chain])}"
    if glass.thread_mm < lens.thread_mm:
        return Fit(names, "limited", f"{with_rings}, smaller than the lens: the corners go dark")
    return Fit(names, "fits", with_rings)


def _rings_between(lens_mm: float, filter_mm: float, rings: Sequence[Ring]) -> tuple[Ring, ...] | None:
    """One ring, else two, that lead from a lens to a filter."""
    for count in (1, 2):
        for chain in permutations(rings, count):
            threads = [lens_mm, *(ring.filter_mm for ring in chain)]
            if threads[-1] == filter_mm and all(
                ring.lens_mm == before for ring, before in zip(chain, threads, strict=False)
            ):
                return chain
    return None


def stack_up(glasses: Sequence[Glass]) -> tuple[Fit, ...]:
    """Pairs of filters that are better not used together, and why."""
    return tuple(fit for one, other in combinations(glasses, 2) for fit in _pair(one, other))


def _pair(one: Glass, other: Glass) -> Iterator[Fit]:
    names, kinds = (one.name, other.name), {one.kind, other.kind}
    if kinds == {"variable"}:
        yield Fit(names, "not", "two variable filters cross each other: bands and colour")
    elif kinds == {"variable", "polariser"}:
        yield Fit(names, "not", "a variable filter is made of polarisers: a third one shifts it at will")
    elif None not in (one.thread_mm, other.thread_mm) and one.thread_mm != other.thread_mm:
        small, large = sorted((one.thread_mm or 0, other.thread_mm or 0))
        problem = f"a ring {number(small)} → {number(large)} mm between them, the larger one in front"
        yield Fit(names, "limited", problem)


def addressed(lights: Sequence[Light], trigger: Trigger) -> tuple[Fit, ...]:
    """Groups and channels of the lights of one set-up that their trigger does not have, or that clash."""
    return tuple(_clashes(lights, trigger))


def _clashes(lights: Sequence[Light], trigger: Trigger) -> Iterator[Fit]:
    letters = ascii_uppercase[: trigger.groups]
    for light in lights:
        names = (light.says, trigger.name)
        if light.group and light.group not in letters:
            yield Fit(names, "not", f"{trigger.name} has groups A to {letters[-1]}, not {light.group}")
        if light.channel is not None and light.channel > trigger.channels:
            problem = f"{trigger.name} has channels 1 to {trigger.channels}, not {light.channel}"
            yield Fit(names, "not", problem)
    channels = sorted({light.channel for light in lights if light.channel is not None})
    if len(channels) > 1:
        apart = tuple(light.says for light in lights if light.channel is not None)
        stand = listed([str(channel) for channel in channels])
        yield Fit(apart, "not", f"they stand on channels {stand}: one trigger reaches one")
    without = [light.says for light in lights if not light.group]
    if len(lights) > 1 and without:
        yield Fit(
            tuple(without), "limited", "without a group its power cannot be set by itself from the camera"
        )
