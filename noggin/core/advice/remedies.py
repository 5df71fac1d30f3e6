"""What would make a way work that is short or lacks something.

Each remedy is a changed set-up (from `proposals`), planned again by the same method: the gain and
whether it is enough come from that plan alone.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from noggin.core.advice.daylight_proposals import ON_DAYLIGHT
from noggin.core.advice.proposals import ON_LIGHTS_AND_CAMERA
from noggin.core.advice.remedy_case import LEAST_GAIN, Case, Proposal, planned
from noggin.core.errors import Refused
from noggin.core.planning.way import Plan, Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import Stops

REMEDIES = {
    "closer": "closer",
    "farther": "farther away",
    "modifier": "another modifier",
    "another_head": "another head",
    "bigger_light": "a bigger light",
    "nd_not_hss": "ND filter",
    "stop_down": "stop down",
    "raise_iso": "raise ISO",
    "brighter_background": "a brighter background",
    "scrim": "a scrim over the subject",
    "reflector": "a reflector",
    "shade": "open shade",
    "wait": "wait",
}
"""Every remedy, in the order they are shown."""


@dataclass(frozen=True)
class Remedy:
    """One remedy: its key in REMEDIES, by how many stops what is lacking shrinks, in words what to do,
    the fields of the set-up document it changes (none: take another way as it is), and whether it is
    enough on its own."""

    remedy: str
    gain: Stops
    to: str
    change: Mapping[str, Any]
    suffices: bool

    @property
    def label(self) -> str:
        """What it is called."""
        return REMEDIES[self.remedy]


def remedies(plan: Plan) -> dict[str, tuple[Remedy, ...]]:
    """The remedies of every way by its key: those that are enough alone first, then in REMEDIES' order.

    A way that works has none, but where daylight alone makes the subject too bright.
    """
    return {way.key: remedies_of(plan.setup, way) for way in plan.ways}


def remedies_of(setup: SetUp, way: Way) -> tuple[Remedy, ...]:
    """The remedies of one way; see `remedies`."""
    case = Case(setup, way)
    if way.not_needed or (way.feasible and not case.too_bright):
        return ()
    found: dict[str, Remedy] = {}
    for propose in (*ON_LIGHTS_AND_CAMERA, *ON_DAYLIGHT):
        for proposal in _possible(propose, case):
            remedy = _tried(case, proposal)
            if remedy and remedy.remedy not in found:
                found[remedy.remedy] = remedy
    in_order = sorted(found.values(), key=lambda remedy: list(REMEDIES).index(remedy.remedy))
    return tuple(sorted(in_order, key=lambda remedy: not remedy.suffices))


def _possible(propose: Callable[[Case], Iterator[Proposal]], case: Case) -> Iterator[Proposal]:
    """Proposals up to the first that no set-up can be made of (beyond what a field may hold)."""
    try:
        yield from propose(case)
    except Refused:
        return


def _tried(case: Case, proposal: Proposal) -> Remedy | None:
    """The proposal planned; None where it does not help."""
    after = Case(proposal.setup, planned(proposal.setup, proposal.method or case.way.method))
    gain = _gain(case, after)
    if gain < LEAST_GAIN:
        return None
    return Remedy(proposal.remedy, gain, proposal.to, proposal.change, after.way.feasible)


def _gain(before: Case, after: Case) -> Stops:
    """By how many stops what is lacking shrinks: the background's error first, then the reserve of the
    shortest light, then what is too strong, then a subject that daylight makes too bright."""
    if before.error:
        return abs(before.error) - abs(after.error)
    if after.error:
        return -abs(after.error)
    if before.excluded or before.short:
        return -1.0 if after.excluded else after.reserve - before.reserve
    if before.strong:
        return before.most_too_strong - after.most_too_strong if not after.short else -1.0
    return before.too_bright - after.too_bright
