"""The figures of a set-up as a person types them: where each stands, how it is read, shown, stepped.

One row for each figure; the Bench draws its fields from these rows and the service that takes an entry
reads them, so nothing about a figure is said twice.
"""

from collections.abc import Callable, Mapping
from copy import deepcopy
from dataclasses import dataclass
from typing import Any

from noggin.core import dials, quantities, tones
from noggin.core.errors import Unreadable
from noggin.core.setup import PREFERENCES, SCHOOLS, SetUp
from noggin.core.wording import number, plain, signed

Path = tuple[str | int, ...]
Document = Mapping[str, Any]


@dataclass(frozen=True)
class Entry:
    """One figure.

    `path` leads to it in the document ("key" stands for the key light's place in the list). `read`
    turns typed text into the document's value, `show` turns the value into the usual notation and
    `stepped` gives the value some steps on. `blank` says in words what leaving it empty means, and
    `empty` is the value it then has; without `blank` a figure is required. `hint` says it in other
    words, or what the dial makes of it; `start` is where stepping begins when the figure was left out.
    """

    key: str
    label: str
    path: Path
    read: Callable[[str], Any]
    show: Callable[[Any], str]
    unit: str = ""
    stepped: Callable[[SetUp, Any, int], Any] | None = None
    blank: str = ""
    empty: Any = None
    choices: Mapping[str, str] | None = None
    hint: Callable[[SetUp], str] | None = None
    start: Callable[[SetUp], float] | None = None

    def value(self, document: Document) -> Any:
        """The figure's value in a document; None where it is left out."""
        found: Any = document
        for step in _places(self.path, document):
            found = found.get(step) if isinstance(found, Mapping) else found[step]
        return found

    def text(self, document: Document) -> str:
        """The figure as it is shown; empty where it is left out."""
        value = self.value(document)
        return "" if value is None else self.show(value)

    def words(self, document: Document, setup: SetUp) -> str:
        """The figure said in other words, where there are such; what blank means where it is."""
        if self.value(document) == self.empty:
            return self.blank
        return self.hint(setup) if self.hint else ""

    def parsed(self, text: str) -> Any:
        """The value of typed text; None for a blank that may be. Raises Unreadable or Refused."""
        if self.blank and not text.strip():
            return self.empty
        if self.choices and text not in self.choices:
            raise Unreadable(f"‘{text}’ is none of {', '.join(self.choices)}")
        return self.read(text)

    def put(self, document: Document, value: Any) -> dict[str, Any]:
        """A copy of the document with the figure set."""
        changed: dict[str, Any] = deepcopy(dict(document))
        *way, last = _places(self.path, document)
        found: Any = changed
        for step in way:
            found = found[step]
        found[last] = value
        return changed

    def start_from(self, setup: SetUp) -> float:
        """Where stepping begins for a figure that was left out."""
        return self.start(setup) if self.start else 0.0

    def document_path(self, document: Document) -> Path:
        """Where the figure stands in this document, as faults name it."""
        return _places(self.path, document)


def _places(path: Path, document: Document) -> Path:
    if "key" not in path:
        return path
    roles = [light["role"] for light in document["lights"]]
    return tuple(roles.index("key") if step == "key" else step for step in path)


def _thirds(_: SetUp, value: float, by: int) -> float:
    return (round(value * 3) + by) / 3


def _ev_thirds(_: SetUp, value: float, by: int) -> float:
    # Kept to the tenth that is shown, as a meter reads, so that figure and sum are the same.
    return round(value + by / 3, 1)


def _dialled(step: dials.Step, stops: float, mark: str = "") -> str:
    """What the dial makes of a figure that it has no label for."""
    return "" if step.means(stops) else f"dialled {mark}{step.label}"


def _tenths(_: SetUp, value: float | None, by: int) -> float:
    return round((value or 0.0) + by / 10, 2)


def _ones(_: SetUp, value: float, by: int) -> float:
    return round(value) + by


def _distance(_: SetUp, value: float, by: int) -> float:
    size = next((size for below, size in _DISTANCE_STEPS if value + by * 1e-6 < below), 50.0)
    return round(round(value / size + by) * size, 2)


_DISTANCE_STEPS = ((5, 0.1), (10, 0.5), (50, 1.0), (200, 10.0))
"""Below so many metres, a step is so many."""


def _aperture(setup: SetUp, value: float, by: int) -> float:
    dial = dials.Dial(setup.apertures, setup.dial_step)
    return float(dial.beside(dials.aperture_stops(value), by).label)


def _time(setup: SetUp, value: Any, by: int) -> str:
    time_s = quantities.read_fraction(value) if isinstance(value, str) else value
    return setup.camera.shutters.beside(dials.shutter_stops(time_s), by).label


def _iso(_: SetUp, value: float, by: int) -> float:
    return float(dials.iso_dial().beside(dials.iso_stops(value), by).label)


FOCALS = (14, 16, 20, 24, 28, 35, 50, 70, 85, 105, 135, 200, 300, 400)
"""Focal lengths that a stepper stops at. Common practice, no source."""


def _focal(_: SetUp, value: float, by: int) -> float:
    beyond = [f for f in FOCALS if (f > value if by > 0 else f < value)]
    return value if not beyond else (min(beyond) if by > 0 else max(beyond))


def _read_dial_time(text: str) -> str:
    return quantities.show_shutter(quantities.read_shutter(text))


def _show_dial_time(value: Any) -> str:
    return value if isinstance(value, str) else quantities.show_shutter(value)


def _show_power(value: Any) -> str:
    return value if isinstance(value, str) else quantities.as_fraction(value) or number(value)


def _least_power(_: SetUp, value: Any, by: int) -> str:
    """One stop more or less of the range that a light can be dialled down."""
    power = quantities.read_fraction(value) if isinstance(value, str) else value
    return f"1/{max(1, round(1 / (power * 2**by)))}"


def _read_filters(text: str) -> list[dict[str, Any]]:
    return [
        {"name": f.name, "stops": [f.least, f.most] if f.variable else f.least}
        for f in quantities.read_filters(text)
    ]


def _show_filters(bag: list[dict[str, Any]]) -> str:
    return quantities.show_filters([_span(item["stops"]) for item in bag])


def _span(stops: Any) -> tuple[float, float]:
    return (stops[0], stops[1]) if isinstance(stops, list | tuple) else (stops, stops)


def _amount(value: float) -> str:
    return number(value, 2)


def _read_name(text: str) -> str:
    name = " ".join(text.split())
    if not name:
        raise Unreadable("is empty; type a name")
    return name


ENTRIES = {
    entry.key: entry
    for entry in (
        Entry("name", "Name", ("name",), _read_name, str),
        Entry(
            "subject_distance",
            "Subject at",
            ("scene", "subject_distance_m"),
            quantities.read_distance,
            _amount,
            "m",
            _distance,
        ),
        Entry(
            "background_distance",
            "Background at",
            ("scene", "background_distance_m"),
            quantities.read_distance,
            _amount,
            "m",
            _distance,
        ),
        Entry("focal", "Lens", ("lens", "focal_mm"), quantities.read_focal, number, "mm", _focal),
        Entry(
            "widest",
            "Opens to",
            ("lens", "widest"),
            quantities.read_aperture,
            lambda value: f"f/{number(value, 2)}",
            hint=lambda setup: _dialled(setup.apertures[0], dials.aperture_stops(setup.lens.widest), "f/"),
        ),
        Entry(
            "ev_background",
            "Background",
            ("scene", "ev100", "background"),
            quantities.read_ev,
            plain,
            "EV",
            _ev_thirds,
        ),
        Entry(
            "ev_subject",
            "Shaded face",
            ("scene", "ev100", "subject"),
            quantities.read_ev,
            plain,
            "EV",
            _ev_thirds,
        ),
        Entry(
            "ev_sky",
            "Sky",
            ("scene", "ev100", "sky"),
            quantities.read_ev,
            plain,
            "EV",
            _ev_thirds,
            blank="not in frame",
            start=lambda setup: setup.scene.background,
        ),
        Entry(
            "ev_rim",
            "Sunlit rim",
            ("scene", "ev100", "rim"),
            quantities.read_ev,
            plain,
            "EV",
            _ev_thirds,
            blank="no direct sun",
            start=lambda setup: setup.scene.background,
        ),
        Entry(
            "background_level",
            "Background",
            ("intent", "background_level"),
            quantities.read_stops,
            signed,
            "stops",
            _thirds,
            hint=lambda setup: tones.mood(setup.intent.background_level),
        ),
        Entry(
            "subject_level",
            "Faces",
            ("intent", "subject_level"),
            quantities.read_stops,
            signed,
            "stops",
            _thirds,
            hint=lambda setup: SCHOOLS[setup.intent.school],
        ),
        Entry(
            "aperture",
            "Aperture",
            ("intent", "aperture"),
            quantities.read_aperture,
            lambda value: f"f/{number(value, 2)}",
            "",
            _aperture,
            hint=lambda setup: _dialled(
                setup.wanted_aperture, dials.aperture_stops(setup.intent.aperture), "f/"
            ),
        ),
        Entry(
            "prefer",
            "Prefer",
            ("intent", "prefer"),
            str,
            str,
            choices=PREFERENCES,
        ),
        Entry(
            "sync",
            "Sync speed",
            ("camera", "sync_s"),
            _read_dial_time,
            _show_dial_time,
            "s",
            _time,
            hint=lambda setup: _dialled(setup.camera.sync, dials.shutter_stops(setup.camera.sync_s)),
        ),
        Entry(
            "fastest",
            "Fastest time",
            ("camera", "fastest_s"),
            _read_dial_time,
            _show_dial_time,
            "s",
            _time,
            hint=lambda setup: _dialled(setup.camera.fastest, dials.shutter_stops(setup.camera.fastest_s)),
        ),
        Entry(
            "slowest",
            "Slowest time",
            ("camera", "slowest_s"),
            _read_dial_time,
            _show_dial_time,
            "s",
            _time,
            hint=lambda setup: _dialled(setup.camera.slowest, dials.shutter_stops(setup.camera.slowest_s)),
        ),
        Entry(
            "iso_lowest",
            "Lowest ISO",
            ("camera", "iso_lowest"),
            quantities.read_iso,
            number,
            "",
            _iso,
            hint=lambda setup: _dialled(setup.camera.iso_low, dials.iso_stops(setup.camera.iso_lowest)),
        ),
        Entry(
            "filters",
            "ND filters",
            ("filters",),
            _read_filters,
            _show_filters,
            "stops",
            blank="no filter",
            empty=[],
        ),
        Entry("light_name", "Light", ("lights", "key", "name"), _read_name, str),
        Entry(
            "gn",
            "Guide number",
            ("lights", "key", "gn_m"),
            quantities.read_guide_number,
            lambda value: number(value, 1),
            "m",
            _ones,
        ),
        Entry(
            "light_distance",
            "Light at",
            ("lights", "key", "distance_m"),
            quantities.read_distance,
            _amount,
            "m",
            _distance,
        ),
        Entry(
            "loss",
            "Modifier takes",
            ("lights", "key", "loss"),
            quantities.read_amount,
            _amount,
            "stops",
            _tenths,
        ),
        Entry(
            "power_min",
            "Least power",
            ("lights", "key", "power_min"),
            quantities.read_fraction,
            _show_power,
            stepped=_least_power,
        ),
        Entry(
            "toll",
            "High-speed toll",
            ("lights", "key", "hss_toll"),
            quantities.read_amount,
            _amount,
            "stops",
            _tenths,
            blank="no high-speed sync",
        ),
    )
}
"""Every figure that can be typed on the Bench, by its key."""
