"""What would make a way work that is short or lacks something.

Each remedy is a changed set-up (from `proposals`), planned again by the same method: the gain and
whether it is enough come from that plan alone.
"""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any

from noggin.core.advice.proposals import EVERYTHING, ON_LIGHTS_AND_CAMERA
from noggin.core.advice.remedy_case import LEAST_GAIN, NO_SPARES, Case, Proposal, Spares, planned
from noggin.core.errors import Refused
from noggin.core.planning.mend import Mend
from noggin.core.planning.plan import work_out
from noggin.core.planning.ranking import GIVEN_UP
from noggin.core.planning.verdicts import HOLDS
from noggin.core.planning.way import Plan, Way
from noggin.core.setup.setup import SetUp
from noggin.core.units import TOLERANCE, Stops
from noggin.core.wording import listed, metres

DIAL, MOVE, HOLD, CARRY, WAIT = range(5)
"""What a remedy asks for, the cheapest first: a dial, a few steps, something small, a light, time."""


@dataclass(frozen=True)
class RemedyKind:
    """What a remedy is called, and what it asks for."""

    label: str
    cost: int


REMEDIES = {
    "closer": RemedyKind("closer", MOVE),
    "farther": RemedyKind("farther away", MOVE),
    "modifier": RemedyKind("another modifier", HOLD),
    "another_head": RemedyKind("another head", CARRY),
    "bigger_light": RemedyKind("a bigger light", CARRY),
    "nd_not_hss": RemedyKind("ND filter", HOLD),
    "stop_down": RemedyKind("stop down", DIAL),
    "raise_iso": RemedyKind("raise ISO", DIAL),
    "longer_time": RemedyKind("a longer time", DIAL),
    "wider_aperture": RemedyKind("open the aperture", DIAL),
    "grid": RemedyKind("a grid", HOLD),
    "away_from_wall": RemedyKind("away from the wall", MOVE),
    "scrim": RemedyKind("a scrim over the subject", HOLD),
    "reflector": RemedyKind("a reflector", HOLD),
    "shade": RemedyKind("open shade", MOVE),
    "wait": RemedyKind("wait", WAIT),
    "brighter_background": RemedyKind("a brighter background", DIAL),
    "darker_background": RemedyKind("a darker background", DIAL),
}
"""Every remedy, in the order they are shown; to mean another picture is the last resort."""

PAIRS_TRIED = 40
"""Pairs that are planned before none is given."""


@dataclass(frozen=True)
class Remedy:
    """One remedy: its key in REMEDIES, by how many stops the miss shrinks, in words what to do, the fields
    of the set-up document it changes (none: take another way as it is), whether it is enough, and the
    second remedy it goes with where neither is enough alone, whether it gives up more than a stop of
    background or aperture as they are meant, and what it gives the key in full (None where that is no
    matter of the key), which may be more than is missing."""

    remedy: str
    gain: Stops
    to: str
    change: Mapping[str, Any]
    suffices: bool
    together_with: str = ""
    gives_up: bool = False
    full: Stops | None = None

    @property
    def key(self) -> str:
        """What it goes by: its own key, with that of the second where it is a pair."""
        return "+".join(filter(None, (self.remedy, self.together_with)))

    @property
    def label(self) -> str:
        """What it is called."""
        return remedy_label(self.key)

    @property
    def gives(self) -> Stops:
        """What it gives, in full where it is enough: more than is missing is more to spare."""
        return max(self.gain, self.full) if self.suffices and self.full is not None else self.gain

    @property
    def by(self) -> str:
        """What it comes to, after its label."""
        return self.to.removeprefix(self.label).strip()


def remedy_label(key: str) -> str:
    """What a remedy or a pair of them is called, by its key.

    >>> remedy_label("closer"), remedy_label("closer+raise_iso")
    ('closer', 'closer and raise ISO')
    """
    return listed([REMEDIES[part].label for part in key.split("+") if part in REMEDIES])


@dataclass(frozen=True)
class _Tried:
    """A proposal that helps, planned."""

    proposal: Proposal
    before: SetUp
    reserve: Stops | None
    after: Case
    gain: Stops

    @property
    def suffices(self) -> bool:
        return self.after.way.feasible

    @property
    def full(self) -> Stops | None:
        before, after = self.reserve, self.after.way.reserve
        same_way = self.proposal.kind is None
        return after - before if same_way and before is not None and after is not None else None

    @property
    def remedy(self) -> Remedy:
        proposal = self.proposal
        return Remedy(
            proposal.remedy,
            self.gain,
            proposal.to,
            proposal.change,
            self.suffices,
            gives_up=_gives_up(self.before, self.after.setup),
            full=self.full,
        )


def remedies(plan: Plan, spares: Spares = NO_SPARES) -> dict[str, tuple[Remedy, ...]]:
    """The remedies of every way by its key: those that are enough alone first, by what they ask for, then
    in REMEDIES' order; what gives up more than a stop of what is meant comes last.

    A way that holds has none, but where daylight alone makes the subject too bright.
    """
    return {way.key: remedies_of(plan.setup, way, spares) for way in plan.ways}


def remedies_of(setup: SetUp, way: Way, spares: Spares = NO_SPARES) -> tuple[Remedy, ...]:
    """The remedies of one way; see `remedies`. Where none is enough alone, the cheapest pair that is."""
    case = Case(setup.without_layout, way, spares, setup)
    if way.not_needed or (way.verdict == HOLDS and not case.too_bright):
        return ()
    tried = _best_of_each(case)
    found = sorted(tried, key=lambda one: list(REMEDIES).index(one.proposal.remedy))
    singles = [one.remedy for one in found]
    if way.mend:
        # What the way is advised with stands first: one tap makes it.
        others = [one for one in singles if one.remedy != "closer"]
        return (_the_move(case, way.mend), *sorted(others, key=_by_what_it_asks))
    if not way.feasible and first_enough(singles) is None:
        singles = [*_cheapest_pair(case, found), *singles]
    return tuple(sorted(singles, key=_by_what_it_asks))


def _by_what_it_asks(one: Remedy) -> tuple[bool, bool, int]:
    """Those that are enough first, by what has to be dialled, moved, held, carried or waited for; a pair by
    the more of the two."""
    costs = [REMEDIES[part].cost for part in one.key.split("+")]
    return one.gives_up, not one.suffices, 0 if one.together_with else max(costs)


def _the_move(case: Case, mend: Mend) -> Remedy:
    """The move that is all a way needs."""
    words = [f"move {move.light} to {metres(move.distance_m)}" for move in mend.moves]
    change = {f"lights[{move.index}].distance_m": move.distance_m for move in mend.moves}
    left = work_out(mend.setup, case.way.kind).miss
    return Remedy("closer", case.miss - left, listed(words), change, True)


def first_help(plan: Plan) -> Remedy | None:
    """The one thing, or pair, that makes the way that is spoken of work; None where it works, or nothing
    does it. What is owned is not looked through."""
    return None if plan.shown.feasible else first_enough(remedies_of(plan.setup, plan.shown))


def first_enough(found: Sequence[Remedy]) -> Remedy | None:
    """The first remedy that is enough and gives up no more than a stop of what is meant; None where none
    is."""
    return next((remedy for remedy in found if remedy.suffices and not remedy.gives_up), None)


def _best_of_each(case: Case) -> list[_Tried]:
    """Every remedy that helps, each once."""
    found: dict[str, _Tried] = {}
    for propose in EVERYTHING:
        for proposal in _possible(propose, case):
            tried = _tried(case, proposal)
            if tried and proposal.remedy not in found:
                found[proposal.remedy] = tried
    return list(found.values())


def _cheapest_pair(case: Case, singles: Sequence[_Tried]) -> Iterator[Remedy]:
    """The pair that asks for least and is enough: a second remedy for what the first leaves."""
    pairs = islice(_pairs(singles), PAIRS_TRIED)
    enough = [pair for pair in pairs if pair[1].suffices]
    if enough:
        first, second = min(enough, key=lambda pair: _cost_of_pair(case, *pair))
        yield Remedy(
            first.proposal.remedy,
            case.miss - second.after.miss,
            f"{first.proposal.to}, and {second.proposal.to}",
            {**first.proposal.change, **second.proposal.change},
            True,
            second.proposal.remedy,
            gives_up=_gives_up(case.setup, second.after.setup),
        )


def _pairs(singles: Sequence[_Tried]) -> Iterator[tuple[_Tried, _Tried]]:
    """Pairs by what the first asks for; a wait, or a change of intention, is never one of them."""
    cheapest_first = sorted(singles, key=lambda one: REMEDIES[one.proposal.remedy].cost)
    for first in cheapest_first:
        if first.proposal.kind is not None or first.proposal.remedy in ("wait", "shade"):
            continue
        for propose in ON_LIGHTS_AND_CAMERA:
            for proposal in _possible(propose, first.after):
                if proposal.remedy != first.proposal.remedy:
                    second = _tried(first.after, proposal)
                    if second:
                        yield first, second


def _cost_of_pair(case: Case, first: _Tried, second: _Tried) -> tuple[bool, int, int]:
    costs = [REMEDIES[one.proposal.remedy].cost for one in (first, second)]
    return _gives_up(case.setup, second.after.setup), sum(costs), max(costs)


def _possible(propose: Callable[[Case], Iterator[Proposal]], case: Case) -> Iterator[Proposal]:
    """Proposals up to the first that no set-up can be made of (beyond what a field may hold)."""
    try:
        yield from propose(case)
    except Refused:
        return


def _tried(case: Case, proposal: Proposal) -> _Tried | None:
    """The proposal planned; None where it does not help."""
    way = planned(proposal.setup, proposal.kind or case.way.kind)
    after = Case(proposal.setup, way, case.spares)
    gain = _gain(case, after)
    # What turns a method that falls short into one that works helps, however little it was short.
    helps = gain >= LEAST_GAIN or (gain > 0 and way.feasible and not case.way.feasible)
    return _Tried(proposal, case.setup, case.way.reserve, after, gain) if helps else None


def _gives_up(before: SetUp, after: SetUp) -> bool:
    """Whether more than a stop of background or aperture as they are meant is given up."""
    background = after.intent.background_level - before.intent.background_level
    aperture = after.wanted_aperture.stops - before.wanted_aperture.stops
    return max(abs(background), abs(aperture)) > GIVEN_UP + TOLERANCE


def _gain(before: Case, after: Case) -> Stops:
    """By how many stops the miss shrinks; where there is none, by how much daylight on the subject does
    that makes it too bright."""
    if before.miss > 0:
        return before.miss - after.miss
    return before.too_bright - after.too_bright if after.way.feasible else -1.0
