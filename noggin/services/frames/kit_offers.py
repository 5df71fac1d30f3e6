"""What takes show of a light again and again, offered to the kit; taken only on a yes."""

from dataclasses import dataclass

from noggin.core.errors import Refused
from noggin.core.units import Metres, Stops
from noggin.core.wording import signed
from noggin.documents.paths import value_at
from noggin.documents.written import GearWritten
from noggin.services.clock import Clock
from noggin.services.frames.log_charts import LightSeries, charts
from noggin.services.gear.kit import change_gear, kind_of, open_gear
from noggin.services.gear.measuring import number_of
from noggin.services.keeping.kept import KeptItem
from noggin.store.store import Store

FIGURE = ("reflectors", 0, "gn_m")
"""What is offered: the guide number of a light's first reflector. Frames do not tell it from the loss of
what was before the light."""


@dataclass(frozen=True)
class Offer:
    """A light's guide number by what takes show: by how many stops it is off, the ± that is left, how many
    takes, and the figure before and after."""

    offset: Stops
    uncertainty: Stops
    takes: int
    through: str
    before_m: Metres
    now_m: Metres


def offer(store: Store, item: KeptItem) -> Offer | None:
    """What takes say of a light; None where they do not say it again and again, or the figure is from
    takes already."""
    if kind_of(item) != "light":
        return None
    known = [one for one in charts(store).lights if one.light == item.name and one.speaks]
    figure = value_at(dict(item.document), FIGURE)
    if not known or str(figure.get("how", "")).startswith(HOW):
        return None
    return _offer(max(known, key=lambda one: len(one.seen)), number_of(figure["value"]))


def _offer(series: LightSeries, before_m: Metres) -> Offer:
    value, uncertainty = series.mean
    now_m = round(before_m * 2 ** (value / 2), 1)
    return Offer(value, uncertainty, len(series.seen), series.modifier, before_m, now_m)


HOW = "takes:"
"""How a figure that came from takes says so."""


def accept(store: Store, clock: Clock, gear_id: int) -> KeptItem:
    """Take what takes show; the figure before it is kept, to be taken back. Raises NotKept, Refused."""
    with store.write_transaction():
        item = open_gear(store, gear_id)
        found = offer(store, item)
        if found is None:
            raise Refused("gn_m", "takes do not say enough of this light")
        through = f" through {found.through}" if found.through else ""
        how = f"{HOW} {found.takes} takes{through} show {signed(found.offset)} stops"

        def change(document: GearWritten) -> None:
            figure = document["reflectors"][0]["gn_m"]
            known = ("value", "source", "plus_minus", "on", "how")
            before = {name: value for name, value in figure.items() if name in known}
            document["reflectors"][0]["gn_m"] = {
                "value": found.now_m,
                "source": "measured",
                "plus_minus": round(max(found.uncertainty, 0.1), 2),
                "on": clock().date().isoformat(),
                "how": how,
                "before": {**before, "value": number_of(before["value"])},
            }

        return change_gear(store, clock, gear_id, "guide number by takes", change)
