"""Use cases of a shoot's open formats: the document out and in, calendar and table."""

import json
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from noggin.core.advice import way_table
from noggin.core.advice.verdict_words import lacks_in_words, only_just
from noggin.core.daylight.day import part_of_day
from noggin.core.planning.verdicts import JUST
from noggin.core.shoot.timeline import planned, verdict_at
from noggin.documents import csv_table
from noggin.documents.calendar import Event, calendar
from noggin.documents.setup import validated, written
from noggin.documents.shoot import read_shoot, written_shoot
from noggin.services.clock import Clock
from noggin.services.day.shoots import SHOOTS, PlacedSetUp, ShootDay
from noggin.services.keeping.kept import Brought, bring_in, unused
from noggin.services.setups.setups import SETUPS
from noggin.store.store import Store


def shoot_document(store: Store, day: ShootDay) -> dict[str, Any]:
    """A shoot as an open document; archived set-ups are not in it."""
    present = [placed for placed in day.placed if placed.slot]
    shoot = day.shoot.model_copy(update={"slots": [day.shoot.slots[placed.index] for placed in present]})
    texts = store.setups.texts([placed.setup_id for placed in present])
    return written_shoot(shoot, [validated(json.loads(texts[placed.setup_id])) for placed in present])


def import_shoot(store: Store, clock: Clock, found: dict[str, Any]) -> tuple[int, Brought]:
    """Keep a parsed shoot document as a new shoot, all of it or nothing; its number, and which of its
    set-ups are new and which were there already, figure for figure. Raises BadDocument."""
    document = read_shoot(found)
    slots, brought = [], Brought()
    with store.write_transaction():
        for slot in document.slots:
            setup = written(slot.setup)
            known = store.setups.equal_to(setup)
            number, how = bring_in(store, clock, SETUPS, setup, known)
            brought = brought.and_then(how)
            slots.append({**slot.model_dump(mode="json", exclude={"setup"}), "setup": number})
        kept = document.model_dump(mode="json", exclude={"format", "version", "slots"})
        name = unused(document.name, store.shoots.names())
        notes = "" if document.notes is None else document.notes
        shoot = {**kept, "name": name, "slots": slots, "notes": notes}
        number, _ = bring_in(store, clock, SHOOTS, shoot, None)
        return number, brought


def shoot_calendar(day: ShootDay, now: Clock) -> bytes:
    """The set-ups of a day as iCalendar (RFC 5545), settings in their descriptions."""
    place = day.shoot.place
    events = [_event(day, placed) for placed in day.slots]
    return calendar(events, day.name, (place.lat, place.lon), place.name, now())


def _event(day: ShootDay, placed: PlacedSetUp) -> Event:
    slot = placed.slot
    assert slot is not None  # noqa: S101 - only those that are there are asked for
    # Known again when the day is exported again, so that a calendar replaces what it has.
    times = sum(1 for other in day.placed[: placed.index] if other.setup_id == placed.setup_id)
    uid = str(uuid5(NAMESPACE_URL, f"noggin-shoot:{day.id}:{placed.setup_id}:{times}"))
    way = planned(slot)
    lines = [
        f"{way.label}: {way_table.camera_text(way)}, ISO {way.settings.iso.label},"
        f" {way_table.filter_text(way)}"
    ]
    lines += [f"{_named(firing.light)} {firing.power_words}" for firing in way.lighting.firings]
    if way.verdict == JUST:
        lines.append(only_just(way))
    lines.append(
        f"reserve {way_table.reserve_text(way)}"
        if way.feasible
        else f"does not work: {'; '.join(lacks_in_words(way))}"
    )
    return Event(uid, slot.start, slot.end, slot.setup.name, "\n".join(lines))


def _named(light: Any) -> str:
    return f"{light.role}, {light.name}:" if light.name else f"{light.role}:"


def shoot_table(day: ShootDay) -> str:
    """The day's light as CSV, a row for every step of the strip: sun, part of the day, EV of each side, and
    the reserve of each set-up's way (empty where it cannot be, or needs no flash)."""
    slots = [(placed.name, placed.slot, planned(placed.slot)) for placed in day.slots if placed.slot]
    heads = ["time", "sun height deg", "sun azimuth deg", "part of day"]
    heads += ["sunlit EV100", "shaded EV100", "sky EV100", "plus minus stops"]
    rows: list[list[object]] = [[*heads, *(f"{name}: {way.label}, reserve" for name, _, way in slots)]]
    for light in day.curve:
        row: list[object] = [
            light.time.isoformat(timespec="minutes"),
            f"{light.sun.height_deg:.1f}",
            f"{light.sun.azimuth_deg:.0f}",
            part_of_day(light.sun.height_deg).label,
            *(f"{ev:.2f}" for ev in (light.sunlit, light.shaded, light.sky)),
            f"{light.uncertainty:.2f}",
        ]
        for _, slot, way in slots:
            then = verdict_at(slot.placement, way.kind, light.time)
            row.append(f"{then.reserve:.2f}" if then.works and then.reserve is not None else "")
        rows.append(row)
    return csv_table.written(rows)
