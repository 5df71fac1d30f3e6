"""The Bench: one set-up, its figures beside the ways they lead to."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from flask import Blueprint, abort, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.core.light import ROLES
from noggin.core.plan import METHODS, Way
from noggin.core.why import CHAINS
from noggin.documents.entry import Entry
from noggin.documents.gear import Light
from noggin.documents.light_entries import LIGHT_ENTRIES
from noggin.services import on_days, shoots
from noggin.services import setups as services
from noggin.services.looking import DEFAULT_LEAST, LEASTS, look_at
from noggin.services.setups import Opened
from noggin.web.wiring import steps, wants_part, wiring

pages = Blueprint("bench", __name__)


@dataclass(frozen=True)
class Group:
    """One step of the order of work: the figures entered in it, and those that are seldom needed."""

    title: str
    keys: tuple[str, ...]
    more: tuple[str, ...] = ()
    more_words: str = ""


GROUPS = (
    Group(
        "Composition",
        ("bag", "camera", "lens", "framing", "subject_distance", "background_distance"),
        ("group_depth", "movement", "focal", "widest"),
        "group, movement, lens figures",
    ),
    Group(
        "Daylight",
        ("ev_background", "ev_subject", "ev_sky", "ev_rim"),
        ("where", "sky_kind", "ground", "facing"),
        "place, time and sky",
    ),
    Group(
        "Meant",
        ("mood", "background_level", "subject_level", "aperture", "prefer"),
        ("school", "share", "blur_wish", "frames"),
        "school of flash, wishes",
    ),
    Group(
        "Glass and trigger",
        ("filters_from", "filters", "trigger", "sync"),
        ("fastest", "slowest", "iso_lowest", "iso_highest"),
        "times and ISO of the camera",
    ),
)
"""The order of work before the lights: composition, daylight, intention, then camera and glass."""

SHORTCUTS = (
    ("↑ ↓", "in a figure: one step up or down"),
    ("Enter", "in a figure: take it"),
    ("z", "undo"),
    ("y", "redo"),
    ("1 … 5", "look at the first to the fifth way"),
    ("p", "pin this version to compare, or let it go"),
    ("f", "go to the first figure"),
    ("?", "these keys"),
)
"""Keys that do something outside a figure, unless said otherwise; `noggin.js` listens for them."""

TYPED = (
    ("light", "14.6 · incident 13.2 · card 15.2 · 1/200 f/8 ISO 400 · hazy sun · open shade"),
    ("distances", "2.4 m · 240 cm · 8 ft · 9'6\""),
    ("times, apertures", "1/250 or 250 · f/2.8 or 2.8"),
    ("filters", "6 stops · ND64 · 1.8 · 2–5, several with commas"),
    ("powers", "1/128 · 1/4 −0.3 · 3.0 on a scale of whole stops"),
    ("levels", "−1 · +0.3 · −1 1/3"),
    ("where and when", "42.46, 0.71 2027-06-19 13:10 Europe/Madrid"),
)
"""What can be typed, by what it is typed for; `core.quantities` reads it."""

LIGHT_FIRST = ("class", "light_distance", "modifier")
LIGHT_MORE = tuple(entry.key for entry in LIGHT_ENTRIES if entry.key not in LIGHT_FIRST)
"""Figures of a light that are always in view, and those that are seldom needed."""


@dataclass(frozen=True)
class Field:
    """One figure as it stands on the page."""

    entry: Entry
    text: str
    words: str
    problem: str

    @property
    def key(self) -> str:
        """The figure's key."""
        return self.entry.key


@dataclass(frozen=True)
class LightFields:
    """The figures of one light: its place in the list, what it is called, whether it is the key, and the
    piece of the kit that it is ("" where it is none)."""

    at: int
    title: str
    is_key: bool
    in_kit: str
    first: tuple[str, ...]
    more: tuple[str, ...]


class Fields(Mapping[str, Field]):
    """Every figure of a set-up as the page shows it, made when it is asked for: what was typed wins over
    what is saved."""

    def __init__(self, opened: Opened) -> None:
        self._opened = opened

    def __getitem__(self, key: str) -> Field:
        opened, entry = self._opened, self._opened.entries[key]
        waiting = opened.pending.get(key)
        return Field(
            entry,
            waiting.text if waiting else entry.text(opened.document),
            entry.words(opened.document, opened.setup),
            waiting.problem if waiting else "",
        )

    def __iter__(self) -> Iterator[str]:
        return iter(self._opened.entries)

    def __len__(self) -> int:
        return len(self._opened.entries)


def lights(opened: Opened) -> Iterator[LightFields]:
    """The lights, in the order of the document."""
    for at, light in enumerate(opened.setup.lights):
        first, more = LIGHT_FIRST, LIGHT_MORE
        if light.role == "key":
            more = tuple(key for key in more if key not in ("role", "relative"))
        yield LightFields(
            at,
            f"{ROLES[light.role].label}: {light.name}" if light.name else ROLES[light.role].label,
            light.role == "key",
            own.name if (own := opened.offered.along.named(Light, light.name)) else "",
            tuple(f"{key}-{at}" for key in first),
            tuple(f"{key}-{at}" for key in more),
        )


def looked_at(opened: Opened) -> Way:
    """The way that drawings and reasons are for: the one asked for, else the advised one."""
    plan = opened.plan
    asked = request.values.get("look", "")
    return next((way for way in plan.ways if way.way == asked), plan.chosen or plan.ways[0])


@pages.get("/setups/<int:setup_id>")
def page(setup_id: int) -> str:
    """The whole page, or only its plan when another way is looked at."""
    opened = services.open_setup(wiring().store, setup_id)
    template = "bench/_plan.html" if wants_part() else "bench/page.html"
    return _render(template, opened)


@pages.get("/setups/<int:setup_id>/why/<way>/<row>")
def why(setup_id: int, way: str, row: str) -> str:
    """Why a row of the board is what it is in one way."""
    if way not in METHODS or row not in CHAINS:
        abort(404)
    opened = services.open_setup(wiring().store, setup_id)
    chain = CHAINS[row]
    links = chain.links(opened.setup, opened.plan.way(way))
    return render_template("bench/_chain.html", chain=chain, links=links)


@pages.post("/setups/<int:setup_id>/figures/<key>")
def figure(setup_id: int, key: str) -> ResponseReturnValue:
    """Take one figure as typed (`text`), or moved by steps (`by`)."""
    wired = wiring()
    text = request.form.get("text", "")
    by = steps(request.form.get("by"))
    if by is None:
        opened = services.enter(wired.store, wired.clock, setup_id, key, text)
    else:
        opened = services.step(wired.store, wired.clock, setup_id, key, by)
    # A figure that was stepped or left shows its usual notation, and so does everything that followed
    # from it; while it is being typed the fields are let alone.
    if wants_part() and by is None and "settled" not in request.args:
        # Only its own words follow, and those of figures that wait or waited.
        told = {key, *opened.pending, *opened.waited}
        return _render("bench/_answer.html", opened, key=key, told=sorted(told))
    return _answer(opened, taken={key: text})


@pages.post("/setups/<int:setup_id>/undo")
def undo(setup_id: int) -> ResponseReturnValue:
    """Take the last step back."""
    return _answer(services.undo(wiring().store, wiring().clock, setup_id))


@pages.post("/setups/<int:setup_id>/redo")
def redo(setup_id: int) -> ResponseReturnValue:
    """Do again what was taken back."""
    return _answer(services.redo(wiring().store, wiring().clock, setup_id))


@pages.post("/setups/<int:setup_id>/remedies/<way>/<remedy>")
def remedy(setup_id: int, way: str, remedy: str) -> ResponseReturnValue:
    """Try a remedy of a way."""
    return _answer(services.try_remedy(wiring().store, wiring().clock, setup_id, way, remedy))


@pages.post("/setups/<int:setup_id>/lights")
def add_light(setup_id: int) -> ResponseReturnValue:
    """One more light in a role, like another where `like` says so."""
    like = request.form.get("like", type=int)
    role = request.form.get("role", "")
    return _answer(services.add_light(wiring().store, wiring().clock, setup_id, role, like))


@pages.post("/setups/<int:setup_id>/lights/<int:at>/remove")
def remove_light(setup_id: int, at: int) -> ResponseReturnValue:
    """One light less."""
    return _answer(services.remove_light(wiring().store, wiring().clock, setup_id, at))


@pages.post("/setups/<int:setup_id>/estimate")
def estimate(setup_id: int) -> ResponseReturnValue:
    """Every zone as the day's light gives it."""
    return _answer(services.take_estimate(wiring().store, wiring().clock, setup_id))


@pages.get("/setups/<int:setup_id>/days/<int:shoot_id>/<int:at>/<way>")
def best_time(setup_id: int, shoot_id: int, at: int, way: str) -> str:
    """When a way of a set-up holds on a day it stands on."""
    if way not in METHODS:
        abort(404)
    look = look_at(
        shoots.open_shoot(wiring().store, wiring().clock, shoot_id), at, request.args.get("least", ""), ""
    )
    if look is None or (look.placed.at, look.placed.setup_id) != (at, setup_id):
        abort(404)
    return render_template("bench/_best.html", look=look, method=METHODS[way], key=way, leasts=LEASTS)


@pages.post("/setups/<int:setup_id>/days/<int:shoot_id>/<int:at>")
def take_light(setup_id: int, shoot_id: int, at: int) -> ResponseReturnValue:
    """The set-up in the light of its start on a day; with `way`, moved first to where that way holds."""
    store, clock = wiring().store, wiring().clock
    way = request.form.get("way", "")
    if way in METHODS:
        on_days.move_to_best(store, clock, shoot_id, at, way, LEASTS[DEFAULT_LEAST][0])
    return _answer(on_days.take_light(store, clock, setup_id, shoot_id, at))


@pages.post("/setups/<int:setup_id>/pin")
def pin(setup_id: int) -> ResponseReturnValue:
    """Keep this version to compare with (`pinned` 1), or let it go."""
    pinned = request.form.get("pinned") == "1"
    return _answer(services.pin(wiring().store, wiring().clock, setup_id, pinned))


def _changed_elsewhere(opened: Opened) -> bool:
    """Whether another window changed the set-up since this one was last answered, or that was said and
    has not been seen yet."""
    seen = request.form.get("revision", type=int)
    said = request.form.get("elsewhere") == "1"
    return said or (seen is not None and seen != opened.revision - 1)


def _answer(opened: Opened, taken: dict[str, str] | None = None) -> ResponseReturnValue:
    """The Bench anew where the page asked for it, else the page by its address."""
    if wants_part():
        return _render("bench/_bench.html", opened, taken=taken or {})
    look = request.values.get("look") or None
    return redirect(url_for("bench.page", setup_id=opened.id, look=look), 303)


def _render(template: str, opened: Opened, **more: object) -> str:
    return render_template(
        template,
        opened=opened,
        plan=opened.plan,
        way=looked_at(opened),
        look=request.values.get("look", ""),
        fields=Fields(opened),
        elsewhere=_changed_elsewhere(opened),
        groups=GROUPS,
        lights=tuple(lights(opened)),
        on_days=on_days.days_of(wiring().store, wiring().clock, opened.id, opened.setup),
        shortcuts=SHORTCUTS,
        typed=TYPED,
        **more,
    )
