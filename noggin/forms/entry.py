"""One figure of a set-up as a person types it: where it is, how it is read, shown, stepped."""

from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, replace
from typing import Any

from noggin.core.errors import Unreadable
from noggin.core.physics import dials
from noggin.core.setup.setup import SetUp
from noggin.core.typed import parse_quantities
from noggin.core.units import METRES_PER_FOOT
from noggin.core.wording import distance_unit, number, shutter_time
from noggin.documents.paths import FieldPath, value_at
from noggin.documents.written import FilterWritten

OWN = "figures of your own"
"""What a choice says that is none of the usual ones."""

Document = Mapping[str, Any]


@dataclass(frozen=True)
class Entry:
    """One figure.

    `path` leads to it in the document. `read` turns typed text into the document's value, `show` turns
    the value into the usual notation and `stepped` gives the value some steps on (by the set-up, or None
    where no set-up belongs to the figure). `blank` says in words what leaving it empty means, and
    `empty` is the value it then has; without `blank` a figure is required. `hint` says it in other words,
    or what the dial makes of it, and `says` does so from the document alone; `start` is where stepping
    begins when the figure was left out. A figure that stands for several of the document's has `gives`,
    its value by the whole document, and `puts`, the document with it set; `lacks` says what else must be
    given with it, empty where nothing. `suggests` names the page's list of what is usually typed, `finds`
    the kind of thing that is looked up while one types.
    """

    key: str
    label: str
    path: FieldPath
    read: Callable[[str], Any]
    show: Callable[[Any], str]
    unit: str = ""
    stepped: Callable[[Any, Any, int], Any] | None = None
    blank: str = ""
    empty: Any = None
    choices: Mapping[str, str] | None = None
    hint: Callable[[SetUp], str] | None = None
    start: Callable[[SetUp], float] | None = None
    says: Callable[[Document], str] | None = None
    gives: Callable[[Document], Any] | None = None
    puts: Callable[[Any, Any], None] | None = None
    suggests: str = ""
    finds: str = ""
    lacks: Callable[[Document], str] | None = None

    def under(self, key: str, owner: FieldPath) -> "Entry":
        """The same figure of one part of a document, under a key of its own."""
        gives, puts = self.gives, self.puts

        def part(document: Any) -> Any:
            return value_at(document, owner)

        return replace(
            self,
            key=key,
            path=(*owner, *self.path),
            gives=(lambda document: gives(part(document))) if gives else None,
            puts=(lambda document, value: puts(part(document), value)) if puts else None,
        )

    def value(self, document: Document) -> Any:
        """The figure's value in a document; None where it is left out."""
        if self.gives:
            return self.gives(document)
        return value_at(document, self.path)

    @property
    def unit_shown(self) -> str:
        """The unit beside the figure; for distances the reader's."""
        return distance_unit() if self.show is distance else self.unit

    def options(self, document: Document) -> Mapping[str, str]:
        """What can be chosen; with the present value where it is none of the usual ones."""
        choices, text = self.choices or {}, self.text(document)
        return choices if text in choices else {text: OWN, **choices}

    def text(self, document: Document) -> str:
        """The figure as it is shown; empty where it is left out."""
        value = self.value(document)
        return "" if value is None else self.show(value)

    def words(self, document: Document, setup: SetUp) -> str:
        """The figure said in other words, where there are such; what blank means where it is."""
        if self.value(document) == self.empty:
            return self.blank
        if self.says:
            return self.says(document)
        return self.hint(setup) if self.hint else ""

    def said(self, document: Document) -> str:
        """The same for figures that no set-up belongs to."""
        if self.value(document) == self.empty:
            return self.blank
        return self.says(document) if self.says else ""

    def parsed(self, text: str) -> Any:
        """The value of typed text; None for a blank that may be. Raises Unreadable or Refused."""
        if self.blank and not text.strip():
            return self.empty
        if self.choices and text not in self.choices:
            raise Unreadable(f"‘{text}’ is not one of {', '.join(self.choices)}")
        return self.read(text)

    def put(self, document: Document, value: Any) -> Document:
        """A copy of the document with the figure set."""
        changed: dict[str, Any] = deepcopy(dict(document))
        if self.puts:
            self.puts(changed, value)
            return changed
        value_at(changed, self.path[:-1])[self.path[-1]] = value
        return changed

    def start_from(self, setup: SetUp | None) -> float:
        """Where stepping begins for a figure that was left out."""
        return self.start(setup) if self.start and setup else 0.0


def third_step(_: SetUp, value: float, by: int) -> float:
    return (round(value * 3) + by) / 3


def kelvin_step(_: SetUp, value: float, by: int) -> float:
    return max(1500.0, round(value / 100) * 100 + 100.0 * by)


def ev_step(_: SetUp, value: float, by: int) -> float:
    # Kept to the tenth that is shown, as a meter reads, so that figure and sum are the same.
    return round(value + by / 3, 1)


def dialled(step: dials.DialStep, stops: float, mark: str = "") -> str:
    """What the dial makes of a figure that it has no label for."""
    return "" if step.means(stops) else f"dialled {mark}{step.label}"


def tenth_step(_: SetUp, value: float | None, by: int) -> float:
    return round((value or 0.0) + by / 10, 2)


def one_step(_: SetUp, value: float, by: int) -> float:
    return round(value) + by


def distance_step(_: SetUp, value: float, by: int) -> float:
    scale = METRES_PER_FOOT if distance_unit() == "ft" else 1.0
    value = value / scale
    size = next((size for below, size in _DISTANCE_STEPS if value + by * 1e-6 < below), 50.0)
    return round(round(round(value / size + by) * size, 2) * scale, 4)


_DISTANCE_STEPS = ((5, 0.1), (10, 0.5), (50, 1.0), (200, 10.0))
"""Below so many metres, a step is so many."""


def aperture_step(setup: SetUp, value: float, by: int) -> float:
    dial = dials.Dial(setup.apertures, setup.dial_step)
    return float(dial.beside(dials.aperture_stops(value), by).label)


def time_step(setup: SetUp, value: Any, by: int) -> str:
    time_s = parse_quantities.read_fraction(value) if isinstance(value, str) else value
    return setup.camera.shutters.beside(dials.shutter_stops(time_s), by).label


def iso_step(_: SetUp, value: float, by: int) -> float:
    return float(dials.iso_dial().beside(dials.iso_stops(value), by).label)


FOCALS = (14, 16, 20, 24, 28, 35, 50, 70, 85, 105, 135, 200, 300, 400)
"""Focal lengths that a stepper stops at. Common practice, no source."""


def focal_step(_: SetUp, value: float, by: int) -> float:
    beyond = [f for f in FOCALS if (f > value if by > 0 else f < value)]
    return value if not beyond else (min(beyond) if by > 0 else max(beyond))


def read_dial_time(text: str) -> str:
    return shutter_time(parse_quantities.read_shutter(text))


def show_dial_time(value: Any) -> str:
    return value if isinstance(value, str) else shutter_time(value)


def show_power(value: Any) -> str:
    return value if isinstance(value, str) else parse_quantities.as_fraction(value) or number(value)


def least_power_step(_: SetUp, value: Any, by: int) -> str:
    """One stop more or less of the range that a light can be dialled down."""
    power = parse_quantities.read_fraction(value) if isinstance(value, str) else value
    return f"1/{max(1, round(1 / (power * 2**by)))}"


def read_filters(text: str) -> list[FilterWritten]:
    return [
        {"name": f.name, "stops": [f.least, f.most] if f.variable else f.least}
        for f in parse_quantities.read_filters(text)
    ]


def show_filters(bag: Sequence[FilterWritten]) -> str:
    return parse_quantities.show_filters([span(item["stops"]) for item in bag])


def span(stops: Any) -> tuple[float, float]:
    return (stops[0], stops[1]) if isinstance(stops, list | tuple) else (stops, stops)


def amount(value: float) -> str:
    """A figure to hundredths."""
    return number(value, 2)


def distance(value: float) -> str:
    """A distance as a figure in the reader's unit."""
    return number(value / METRES_PER_FOOT, 1) if distance_unit() == "ft" else number(value, 2)


def read_name(text: str) -> str:
    name = " ".join(text.split())
    if not name:
        raise Unreadable("is empty. Type a name")
    return name
