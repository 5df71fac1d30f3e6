"""What fits what: among the kit or a bag, and in one set-up."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from noggin.core import fitting
from noggin.core.fitting import Fit
from noggin.core.setup import SetUp
from noggin.core.wording import listed
from noggin.documents import gear as kit
from noggin.documents.entry import Document
from noggin.documents.kit import gear_of
from noggin.documents.offered import Along, Offered
from noggin.services.kit import ORDER
from noggin.services.pieces import Piece


@dataclass(frozen=True)
class Fits:
    """What fits what: light by body and trigger, filter by lens, and filters that do not go together."""

    bodies: tuple[tuple[str, str], ...]
    firing: tuple[tuple[str, tuple[Fit, ...]], ...]
    lenses: tuple[str, ...]
    glass: tuple[tuple[str, tuple[Fit, ...]], ...]
    together: tuple[Fit, ...]

    @property
    def broken(self) -> tuple[str, ...]:
        """Every reason why a light is not fired in high-speed sync, once."""
        reasons = (reason for _, row in self.firing for fit in row for reason in fit.reasons)
        return tuple(dict.fromkeys(reasons))


def fits(pieces: Sequence[Piece]) -> Fits:
    """What of some gear fits what."""
    along = Along(tuple(gear_of(dict(piece.document)) for piece in pieces))
    bodies = [one.fit() for one in along.all(kit.Body)]
    ways = (one.fit() for one in along.all(kit.Trigger))
    triggers = [one for one in ways if isinstance(one, fitting.Trigger)]
    pairs = [(body, trigger) for body in bodies for trigger in triggers]
    receivers = along.receivers()
    lenses = [one.fit() for one in along.all(kit.Lens)]
    rings = [one.fit() for one in along.all(kit.Ring)]
    glasses = [one.fit() for one in along.all(kit.Filter)]
    return Fits(
        tuple((body.name, trigger.name) for body, trigger in pairs),
        tuple(
            (
                head.name,
                tuple(fitting.fires(body, trigger, head.fit(), receivers) for body, trigger in pairs),
            )
            for head in along.all(kit.Light)
        ),
        tuple(lens.name for lens in lenses),
        tuple(
            (glass.name, tuple(fitting.screws_on(glass, lens, rings) for lens in lenses))
            for glass in glasses
        ),
        fitting.stack_up(glasses),
    )


def lacking(pieces: Sequence[Piece]) -> tuple[str, ...]:
    """What is missed among some gear, in words: nothing to photograph with, to fire with, to stand on."""
    counts = {
        kind: sum(piece.document["count"] for piece in pieces if piece.kind == kind) for kind in ORDER
    }
    parts = [piece.document.get("part") for piece in pieces]
    found = []
    if not counts["body"]:
        found.append("No camera body goes along.")
    if counts["light"] and "transmitter" not in parts:
        found.append("No transmitter goes along: the lights will not fire.")
    if counts["light"] > counts["stand"]:
        found.append(f"{counts['light']} lights, {counts['stand']} stands: the rest must be held.")
    if counts["stand"] > counts["sandbag"]:
        found.append(
            f"{counts['stand']} stands, {counts['sandbag']} sandbags: a stand in wind falls on somebody."
        )
    return tuple(found)


def setup_fits(document: Document, setup: SetUp, offered: Offered) -> tuple[str, ...]:
    """What in one set-up does not go together, in words: gear that stays at home, where high-speed sync
    ends, groups and channels, filters that do not go on the lens."""
    along = offered.along
    if not along.gear:
        return ()
    found = (*_away(document, along), *_unfired(document, setup, along), *_unscrewed(document, along))
    return tuple(dict.fromkeys(found))


def _away(document: Document, along: Along) -> Iterator[str]:
    """Gear of the set-up that is not in its bag."""
    if not document.get("bag"):
        return
    names = [document["camera"]["name"], document["lens"]["name"]]
    names += [light["name"] for light in document["lights"]]
    away = [name for name in names if name and along.named(kit.Item, name) is None]
    if away:
        yield f"Not in the bag: {listed(away)}."


def _unfired(document: Document, setup: SetUp, along: Along) -> Iterator[str]:
    """Lights that are not fired in high-speed sync, and addresses that their trigger does not have."""
    for light in document["lights"]:
        head = along.named(kit.Light, light["name"])
        fit = along.fires(document, head) if head else None
        if fit and not fit.clean:
            yield f"{light['name']}: {fit.words}; {listed(fit.reasons)}."
    trigger = along.named(kit.Trigger, document["camera"].get("trigger", ""))
    way = trigger.fit() if trigger else None
    if isinstance(way, fitting.Trigger):
        clashes = (fit for fit in fitting.addressed(setup.lights, way) if fit.grade == "not")
        yield from (f"{listed(fit.names)}: {fit.words}." for fit in clashes)


def _unscrewed(document: Document, along: Along) -> Iterator[str]:
    """Filters that do not go on the lens, or only with dark corners."""
    lens = along.named(kit.Lens, document["lens"]["name"])
    rings = [ring.fit() for ring in along.all(kit.Ring)]
    glasses = [along.named(kit.Filter, one["name"]) for one in document["filters"]]
    for glass in filter(None, glasses if lens else ()):
        fit = fitting.screws_on(glass.fit(), lens.fit(), rings) if lens else None
        if fit and fit.grade in ("not", "limited"):
            yield f"{listed(fit.names, 'on')}: {fit.words}."
