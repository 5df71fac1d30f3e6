"""Use cases of a shoot's open formats: the document out and in, calendar and table."""

import csv
import io
import json
from typing import Any
from uuid import NAMESPACE_URL, uuid5

from noggin.core import board
from noggin.core.course import planned, standing
from noggin.core.day import part_of_day
from noggin.documents.calendar import Event, calendar
from noggin.documents.setup import validated, written
from noggin.documents.shoot import read_shoot, written_shoot
from noggin.services.clock import Clock
from noggin.services.pieces import names, unused
from noggin.services.shoots import Day, Placed
from noggin.store.kept import Store


def shoot_document(store: Store, day: Day) -> dict[str, Any]:
    """A shoot as an open document; set-ups that were laid aside are not in it."""
    present = [one for one in day.placed if one.slot]
    shoot = day.shoot.model_copy(update={"slots": [day.shoot.slots[one.at] for one in present]})
    texts = store.setups.texts()
    return written_shoot(shoot, [validated(json.loads(texts[one.setup_id])) for one in present])


def import_shoot(store: Store, clock: Clock, found: dict[str, Any]) -> int:
    """Keep a parsed shoot document as a new shoot; its number. Set-ups that are there already, figure for
    figure, are taken; the others are new. Raises BadDocument."""
    document = read_shoot(found)
    known = {text: number for number, text in store.setups.texts().items()}
    slots = []
    for slot in document.slots:
        setup = written(slot.setup)
        text = json.dumps(setup)
        if text not in known:
            known[text] = store.setups.add(setup, clock()).id
        slots.append({**slot.model_dump(mode="json", exclude={"setup"}), "setup": known[text]})
    kept = document.model_dump(mode="json", exclude={"format", "version", "slots"})
    name = unused(document.name, names(store.shoots))
    notes = "" if document.notes is None else document.notes
    return store.shoots.add({**kept, "name": name, "slots": slots, "notes": notes}, clock()).id


def shoot_calendar(day: Day, now: Clock) -> bytes:
    """The set-ups of a day as iCalendar (RFC 5545), settings in their descriptions."""
    place = day.shoot.place
    events = [_event(day, one) for one in day.slots]
    return calendar(events, day.name, (place.lat, place.lon), place.name, now())


def _event(day: Day, placed: Placed) -> Event:
    slot = placed.slot
    assert slot is not None  # noqa: S101 - only those that are there are asked for
    # Known again when the day is exported anew, so that a calendar replaces what it has.
    times = sum(1 for other in day.placed[: placed.at] if other.setup_id == placed.setup_id)
    uid = str(uuid5(NAMESPACE_URL, f"noggin-shoot:{day.id}:{placed.setup_id}:{times}"))
    way = planned(slot)
    lines = [
        f"{way.label}: {board.camera_text(way)}, ISO {way.settings.iso.label}, {board.filter_text(way)}"
    ]
    lines += [f"{_named(firing.light)} {firing.power_words}" for firing in way.lighting.firings]
    lines.append(f"reserve {board.reserve_text(way)}" if way.feasible else f"lacks: {'; '.join(way.lacks)}")
    return Event(uid, slot.start, slot.end, slot.setup.name, "\n".join(lines))


def _named(light: Any) -> str:
    return f"{light.role}, {light.name}:" if light.name else f"{light.role}:"


def shoot_table(day: Day) -> str:
    """The day's light as CSV, a row for every step of the strip: sun, part of the day, EV of each side, and
    the reserve of each set-up's way (empty where it cannot be, or needs no flash)."""
    slots = [(one.name, one.slot, planned(one.slot)) for one in day.slots if one.slot]
    out = io.StringIO()
    writer = csv.writer(out)
    heads = ["time", "sun height deg", "sun azimuth deg", "part of day"]
    heads += ["sunlit EV100", "shaded EV100", "sky EV100", "plus minus stops"]
    writer.writerow([*heads, *(f"{name}: {way.label}, reserve" for name, _, way in slots)])
    for light in day.curve:
        row = [
            light.time.isoformat(timespec="minutes"),
            f"{light.sun.height_deg:.1f}",
            f"{light.sun.azimuth_deg:.0f}",
            part_of_day(light.sun.height_deg).label,
            *(f"{ev:.2f}" for ev in (light.sunlit, light.shaded, light.sky)),
            f"{light.uncertainty:.2f}",
        ]
        for _, slot, way in slots:
            stands = standing(slot.stand, way.way, light.time)
            row.append(
                f"{stands.reserve:.2f}" if stands.state == "holds" and stands.reserve is not None else ""
            )
        writer.writerow(row)
    return out.getvalue()
