"""Use cases of measuring gear: a sheet filled in, what it says compared with what is known, taken and
kept."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import log2
from typing import Any

from noggin.core import limits
from noggin.core.errors import NogginError, Refused, Unreadable
from noggin.core.gear.sheets import SHEETS, Found, Outcome, Sheet, Terms, sheets_for, work_out
from noggin.core.tables import SOURCES
from noggin.core.typed.parse_quantities import read_distance, read_fraction, read_shutter
from noggin.core.units import Stops
from noggin.core.wording import number, shutter_time, stops
from noggin.documents import gear as kit
from noggin.documents.kit import canonical_measurement
from noggin.documents.paths import owner_of, path_of, steps_of, value_at
from noggin.documents.written import GearWritten
from noggin.services.clock import Clock
from noggin.services.gear.kit import change_gear, kind_of, open_gear
from noggin.services.keeping.kept import KeptItem
from noggin.store.store import Store

TAKEN_WITH = ("flash meter", "camera and grey card")
"""What readings are taken with."""


class NoSuchSheet(NogginError, LookupError):
    """This gear is not measured that way."""


@dataclass(frozen=True)
class Filled:
    """A sheet as it was filled in, all as typed, and what it says or why not.

    `about` is the reflector, or the light, that it is about; `across` the face in the reader's unit, empty
    to find it out; `sync` the sync speed that a toll counts from.
    """

    key: str
    readings: str = ""
    about: str = ""
    across: str = "0"
    sync: str = "1/200"
    droop: bool = False
    taken_with: str = TAKEN_WITH[0]
    outcome: Outcome | None = None
    problem: str = ""

    @property
    def sheet(self) -> Sheet:
        """The sheet itself."""
        return SHEETS[self.key]


@dataclass(frozen=True)
class Compared:
    """A measured figure beside the one it would replace."""

    found: Found
    path: str | None
    before: Mapping[str, Any] | None = None
    words: str = ""

    @property
    def apart(self) -> tuple[Stops, Stops, str] | None:
        """How far the present figure is from the measured one, its ± and source; None where there is
        none, or where they are not in stops."""
        if self.before is None or self.found.uncertainty_unit != "stops":
            return None
        now, then = self.found.measured.value, number_of(self.before["value"])
        off = 2 * log2(then / now) if self.found.unit == "m" else then - now
        return off, kit.uncertainty_of_figure(self.before), self.before["source"]

    @property
    def before_text(self) -> str:
        """The present figure as it is written; empty where there is none."""
        return "" if self.before is None else self.found.show(number_of(self.before["value"]))


def fresh(item: KeptItem, key: str) -> Filled:
    """An empty sheet for a item of gear, with what is known of it. Raises NoSuchSheet."""
    if key not in SHEETS or SHEETS[key].kind != kind_of(item):
        raise NoSuchSheet("This gear is not measured that way.")
    document = item.document
    about = document["reflectors"][0]["name"] if key == "guide_number" else ""
    toll = document.get("hss_toll")
    return Filled(
        key,
        about=about,
        across=across_text(document.get("across_m", 0.0)),
        sync=shutter_time(toll["sync_s"]) if toll else "1/200",
        taken_with=TAKEN_WITH[0]
        if key in ("guide_number", "power_scale", "modifier_loss")
        else TAKEN_WITH[1],
    )


def filled(item: KeptItem, sheet: Filled) -> Filled:
    """What the readings of a sheet say."""
    try:
        return replace(sheet, outcome=work_out(sheet.key, sheet.readings, _terms(item, sheet)), problem="")
    except Unreadable as error:
        return replace(sheet, outcome=None, problem=str(error))
    except Refused as error:
        return replace(sheet, outcome=None, problem=f"{error.name}: {error.problem}")


def _terms(item: KeptItem, sheet: Filled) -> Terms:
    marked = item.document.get("stops", (0.0, 0.0))
    across = read_distance(sheet.across) if sheet.across.strip() else None
    if across is None and sheet.key != "guide_number":
        raise Unreadable("face across: is empty. Type 0 for a point source")
    return Terms(across, read_shutter(sheet.sync), sheet.droop, (marked[0], marked[1]))


def compared(item: KeptItem, sheet: Filled) -> tuple[Compared, ...]:
    """Every figure that a sheet found, beside what is believed now."""
    return tuple(_compared(item, sheet, found) for found in (sheet.outcome.found if sheet.outcome else ()))


def _compared(item: KeptItem, sheet: Filled, found: Found) -> Compared:
    path = _path(item.document, sheet, found)
    if path is None:
        return Compared(found, None)
    try:
        before = value_at(item.document, steps_of(path))
    except IndexError:
        # What one light loses in this modifier is not listed yet: it is compared with the general figure.
        before = item.document.get(found.figure or "")
    return Compared(found, path, before, _beside(found, before) if before else "not known until now")


def _beside(found: Found, before: Mapping[str, Any]) -> str:
    """How a measured figure compares with the one before, in words."""
    source = SOURCES[before["source"]].label
    apart = Compared(found, None, before).apart
    if apart is None:
        return f"{source} until now"
    off = -apart[0]
    if abs(off) <= max(found.measured.uncertainty, 0.05):
        return f"agrees with the {source} figure"
    within = "within its ±" if abs(off) <= apart[1] else "beyond its ±"
    return f"{stops(abs(off))} {'over' if off > 0 else 'under'} the {source} figure, {within}"


def number_of(value: Any) -> float:
    """A figure of a document, also where it is written as on a dial."""
    return read_fraction(value) if isinstance(value, str) else float(value)


def _path(document: Mapping[str, Any], sheet: Filled, found: Found) -> str | None:
    """Where a found figure belongs in the gear's document."""
    if found.figure == "gn_m":
        names = [row["name"] for row in document["reflectors"]]
        index = names.index(sheet.about) if sheet.about in names else 0
        return path_of(("reflectors", index, "gn_m"))
    if found.figure == "loss" and sheet.about:
        lights = [row["light"] for row in document.get("losses", ())]
        index = lights.index(sheet.about) if sheet.about in lights else len(lights)
        return path_of(("losses", index, "loss"))
    return found.figure


@dataclass(frozen=True)
class Replaced:
    """A measured figure of a item of gear: its path, what it is called, and the figure it replaced."""

    path: str
    label: str
    now: str
    before: str
    how: str


def replaced(item: KeptItem) -> tuple[Replaced, ...]:
    """Every figure that a measurement replaced, so that it can be taken back."""
    found = []
    for key, entry in item.entries.items():
        if ":" in key:
            continue
        path, figure = path_of(entry.path), value_at(item.document, entry.path)
        if isinstance(figure, Mapping) and figure.get("before"):
            before = figure["before"]
            was = "none" if before["value"] is None else f"{entry.show(before['value'])} {entry.unit_shown}"
            known = "" if before["value"] is None else f", {SOURCES[before['source']].label}"
            how = f"{figure.get('on', '')}, {figure.get('how', '')}".strip(", ")
            found.append(Replaced(path, entry.label, entry.text(item.document), f"{was}{known}", how))
    return tuple(found)


def sheets_of(item: KeptItem) -> Sequence[tuple[str, Sheet]]:
    """The sheets that a piece of gear has, by their keys."""
    return sheets_for(kind_of(item))


def lights_measured(item: KeptItem) -> frozenset[str]:
    """Lights from which it is known by themselves what a modifier takes."""
    return frozenset(row["light"] for row in item.document.get("losses", ()))


def keep(store: Store, clock: Clock, item: KeptItem, sheet: Filled) -> None:
    """Keep readings that say something, for good; the same ones are kept once."""
    if sheet.outcome is None:
        return
    written = _measurement(item, sheet, clock)
    with store.write_transaction():
        for _, one in store.measurements.of(item.id):
            if {**one, "taken": ""} == {**written, "taken": ""}:
                return
        if len(store.measurements.of(item.id)) >= limits.MEASUREMENTS_MOST:
            most = f"{limits.MEASUREMENTS_MOST} sheets of this are kept, and that is the most"
            raise Refused("readings", most)
        store.measurements.add(item.id, written)


def _measurement(item: KeptItem, sheet: Filled, clock: Clock) -> dict[str, Any]:
    terms = _terms(item, sheet)
    asks = sheet.sheet.asks
    return canonical_measurement(
        {
            "sheet": sheet.key,
            "taken": clock().isoformat(timespec="minutes"),
            "taken_with": sheet.taken_with,
            "about": sheet.about if "about" in asks else "",
            "across_m": terms.across_m if "across" in asks else None,
            "sync_s": terms.sync_s if "sync" in asks else None,
            "droop": sheet.droop,
            "readings": sheet.readings,
        }
    )


def kept_sheets(store: Store, item: KeptItem) -> tuple[tuple[str, Filled], ...]:
    """Every sheet filled in for a item of gear: when, and what it says now; the last one first."""
    kept = store.measurements.of(item.id)
    return tuple((one["taken"], filled(item, written_sheet(one))) for _, one in reversed(kept))


def written_sheet(kept: Mapping[str, Any]) -> Filled:
    """A kept measurement as its sheet."""
    asked = "across" in SHEETS[kept["sheet"]].asks
    return Filled(
        kept["sheet"],
        kept["readings"],
        kept["about"],
        across_text(kept.get("across_m")) if asked else "0",
        shutter_time(kept["sync_s"]) if kept.get("sync_s") else "1/200",
        kept.get("droop", False),
        kept["taken_with"],
    )


def across_text(across_m: float | None) -> str:
    """A face as it is typed, its unit with it; empty where it is to be found out."""
    return "" if across_m is None else f"{number(across_m, 3)} m"


def accept(store: Store, clock: Clock, gear_id: int, sheet: Filled) -> KeptItem:
    """Take what a sheet found as the gear's figures; each keeps the one it replaced, to be taken back.
    Raises Refused where the sheet says nothing."""
    item = open_gear(store, gear_id)
    if sheet.outcome is None:
        raise Refused("readings", sheet.problem or "are empty")
    keep(store, clock, item, sheet)
    outcome, on = sheet.outcome, clock().date().isoformat()
    count = len(outcome.rows)
    how = f"{sheet.sheet.title.lower()} sheet, {count} readings, {sheet.taken_with}"

    def change(document: GearWritten) -> None:
        for found in outcome.found:
            path = _path(document, sheet, found)
            if path is None:
                continue
            steps = steps_of(path)
            if steps[0] == "losses" and steps[1] == len(document.get("losses", ())):
                row = {"light": sheet.about, "loss": dict(document["loss"])}
                document.setdefault("losses", []).append(row)
            owner, last = owner_of(document, path)
            owner[last] = _taken(found, value_at(document, steps), on, how, sheet)

    return change_gear(store, clock, gear_id, f"{sheet.sheet.title.lower()} measured", change)


def _taken(
    found: Found, before: Mapping[str, Any] | None, on: str, how: str, sheet: Filled
) -> dict[str, Any]:
    earlier: dict[str, Any] = {"value": None}
    if before:
        known = ("value", "source", "plus_minus", "on", "how")
        earlier = {name: before[name] for name in known if name in before}
        earlier["value"] = number_of(earlier["value"])
    figure = {
        "value": round(found.measured.value, 6 if found.unit in ("s", "ms") else 3),
        "source": "measured",
        "on": on,
        "how": how,
        "before": earlier,
    }
    if found.uncertainty_unit in ("stops", "mired"):
        figure["plus_minus"] = min(round(found.measured.uncertainty, 3), 5.0)
    if found.figure == "hss_toll":
        figure["sync_s"] = read_shutter(sheet.sync)
    return figure
