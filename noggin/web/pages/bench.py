"""The Bench: one set-up, its figures beside the ways they lead to."""

from collections.abc import Iterator
from dataclasses import dataclass
from secrets import token_hex
from typing import Any

from flask import Blueprint, abort, current_app, g, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from noggin.services.day import placements, shoots
from noggin.services.day.slot_detail import DEFAULT_LEAST, LEAST_RESERVES, slot_detail
from noggin.services.errors import Refused, Unreadable
from noggin.services.keeping.kept import once
from noggin.services.setups import setups as services
from noggin.services.setups.setups import OpenSetUp, Way
from noggin.services.words import DERIVATIONS, LIGHT_ENTRIES, ROLES, WAYS
from noggin.web.shared.acts import add_acts, as_offered, offered_once
from noggin.web.shared.fields import Fields, FigureForm
from noggin.web.shared.wiring import read_after_act, steps, wants_part, wiring

pages = Blueprint("bench", __name__)


@dataclass(frozen=True)
class Group:
    """One step of the order of work: the figures entered in it, those that are seldom needed, and whether
    it is open at first."""

    key: str
    title: str
    keys: tuple[str, ...]
    more: tuple[str, ...] = ()
    more_words: str = ""
    is_open: bool = False


GROUPS = (
    Group(
        "composition",
        "Composition",
        ("bag", "camera", "lens", "framing", "subject_distance", "background_distance"),
        ("group_depth", "movement", "people", "support", "gust", "wet", "focal", "widest"),
        "group, movement, people, wind, lens",
    ),
    Group(
        "daylight",
        "Daylight",
        ("ev_background", "ev_subject", "ev_sky", "ev_rim"),
        (
            "where",
            "day",
            "clock",
            "tz",
            "sky_kind",
            "ground",
            "facing",
            "daylight_colour",
            "lamps_background",
            "lamps_subject",
        ),
        "place, time, sky, colour and lamps",
        is_open=True,
    ),
    Group(
        "intention",
        "Intention",
        ("mood", "background_level", "subject_level", "aperture", "aperture_wish", "prefer"),
        ("school", "share", "white_balance", "blur_wish", "flare", "frames"),
        "how much flash, white balance, wishes",
        is_open=True,
    ),
    Group(
        "filters",
        "Filters and trigger",
        ("filters_from", "filters", "trigger", "sync"),
        ("fastest", "slowest", "iso_lowest", "iso_highest"),
        "times and ISO of the camera",
    ),
)
"""The order of work before the lights: composition, daylight, intention, then filters and camera."""


BY_THE_SHUTTER = ("reserve", "flash", "share", "daylight")
"""Rows of the table that are seen inside the shutter."""


@dataclass(frozen=True)
class WorkOrder:
    """An order of the steps: what it is called, when it serves, and how many groups come before the
    lights."""

    label: str
    serves: str
    before_lights: int


ORDERS = {
    "daylight": WorkOrder(
        "daylight first",
        "Serves where the place matters and the light has power to spare: the aperture stays as you want.",
        len(GROUPS),
    ),
    "flash": WorkOrder(
        "flash first",
        "Serves where the power is given: quick recycling, a light at its limit, a studio-like key. The"
        " power gives the aperture, the shutter then places the daylight.",
        1,
    ),
}
"""Both orders of work. Common practice, no source."""

ORDER_COOKIE = "order"


def work_order() -> str:
    """The order that this browser works in, a key of ORDERS."""
    wanted = request.cookies.get(ORDER_COOKIE, "")
    return wanted if wanted in ORDERS else "daylight"


TYPED = (
    ("light", "14.6 · incident 13.2 · card 15.2 · f/16 1/250 ISO 200, −2 · hazy sun · cloudy · lanterns"),
    ("people", "fair in white dress, deep in dark suit"),
    ("distances", "2.4 m · 240 cm · 8 ft · 9'6\""),
    ("times, apertures", "1/250 or 250 · f/2.8 or 2.8"),
    ("filters", "6 stops · ND64 · 1.8 · 2–5 · several, with commas between them"),
    ("powers", "1/128 · 1/4 −0.3 · 60% · 240 Ws · 7.3 on a scale of whole stops"),
    ("levels", "−1 · +0.3 · −1 1/3"),
    ("place", "Ronda, Spain · 42.46, 0.71 · the link a map gives · with date and time on the same line"),
    ("date, time", "19 June 2027 · 19/6/2027 · 19 juin · 13:10 · 1 pm · noon"),
)
"""What can be typed, by what it is typed for; `typed.parse_quantities` reads it."""

LIGHT_FIRST = ("class", "light_distance", "modifier")
LIGHT_MORE = tuple(entry.key for entry in LIGHT_ENTRIES if entry.key not in LIGHT_FIRST)
"""Figures of a light that are always in view, and those that are seldom needed."""


@dataclass(frozen=True)
class LightFields:
    """The figures of one light: its place in the list, what it is called, whether it is the key, and the
    piece of the kit that it is ("" where it is none)."""

    index: int
    title: str
    is_key: bool
    in_kit: str
    first: tuple[str, ...]
    more: tuple[str, ...]


def lights(opened: OpenSetUp) -> Iterator[LightFields]:
    """The lights, in the order of the document."""
    for index, light in enumerate(opened.setup.lights):
        first, more = LIGHT_FIRST, LIGHT_MORE
        if light.role == "key":
            more = tuple(key for key in more if key not in ("role", "relative"))
        yield LightFields(
            index,
            f"{ROLES[light.role].label}: {light.name}" if light.name else ROLES[light.role].label,
            light.role == "key",
            opened.in_kit(light.name),
            tuple(f"{key}-{index}" for key in first),
            tuple(f"{key}-{index}" for key in more),
        )


def looked_at(opened: OpenSetUp) -> Way:
    """The way that drawings and reasons are for: the one asked for, else the recommended one."""
    return opened.plan.by_key.get(request.values.get("look", ""), opened.plan.shown)


@pages.get("/setups/<int:setup_id>")
def page(setup_id: int) -> str:
    """The whole page, or only its plan when another way is looked at."""
    opened = services.open_setup(wiring().store, setup_id)
    template = "bench/_look.html" if wants_part() else "bench/page.html"
    return _render(template, opened)


@pages.get("/setups/<int:setup_id>/rest")
def rest(setup_id: int) -> ResponseReturnValue:
    """What confirms the board, for the page that has changed a figure of it."""
    if not wants_part():
        return redirect(url_for("bench.page", setup_id=setup_id))
    opened = services.open_setup(wiring().store, setup_id)
    if "steps" in request.args:
        return _render("bench/_rest_and_steps.html", opened, taken={})
    return _render("bench/_rest.html", opened)


@pages.get("/setups/<int:setup_id>/why/<key>/<row>")
def why(setup_id: int, key: str, row: str) -> str:
    """Why a row of the table is what it is in one way."""
    if key not in WAYS or row not in DERIVATIONS:
        abort(404)
    opened = services.open_setup(wiring().store, setup_id)
    derivation, found = opened.derivation(key, row)
    heading = f"Why, {WAYS[key].label}"
    return _part(
        opened,
        "bench/_derivation.html",
        heading,
        derivation=derivation,
        steps=[(step.what, step.figure) for step in found],
        by_the_shutter=row in BY_THE_SHUTTER and opened.plan.way(key).lighting.key.down is not None,
        way_key=key,
    )


def _part(opened: OpenSetUp, part: str, heading: str, **more: object) -> str:
    """A part of the Bench for the page that asks for it, or on a page of its own."""
    if wants_part():
        return render_template(part, setup_id=opened.id, **more)
    name = opened.setup.name
    return render_template(
        "bench/alone.html", part=part, heading=heading, name=name, setup_id=opened.id, **more
    )


@pages.post("/setups/<int:setup_id>/order")
def order(setup_id: int) -> ResponseReturnValue:
    """The other order of work, kept in this browser."""
    wanted = request.form.get("order", "")
    if wanted not in ORDERS:
        abort(400, "The order of work is daylight first or flash first.")
    answer = redirect(url_for("bench.page", setup_id=setup_id), 303)
    answer.set_cookie(ORDER_COOKIE, wanted, max_age=10 * 365 * 86_400, samesite="Strict")
    return answer


@pages.get("/setups/<int:setup_id>/aperture")
def aperture_for_power(setup_id: int) -> ResponseReturnValue:
    """Flash first: which aperture a power of the key (`power`, as typed) gives."""
    opened, text = services.open_setup(wiring().store, setup_id), request.args.get("power", "")
    found, problem = None, ""
    try:
        found = services.aperture_at(opened, text)
    except (Unreadable, Refused) as error:
        problem = str(error)
    return render_template(
        "bench/_aperture.html" if wants_part() else "bench/aperture.html",
        opened=opened,
        text=text,
        found=found,
        said=services.flash_words(opened, found) if found else (),
        problem=problem,
    )


@pages.post("/setups/<int:setup_id>/figures/<key>")
def figure(setup_id: int, key: str) -> ResponseReturnValue:
    """Take one figure as typed (`text`), or moved by steps (`by`)."""
    wired = wiring()
    text = request.form.get("text", "")
    by = steps(request.form.get("by"))
    if by is None:
        opened = services.enter(wired.store, wired.clock, setup_id, key, text)
    else:
        opened = services.nudge(wired.store, wired.clock, setup_id, key, by)
    limits = {key: opened.limit}
    # Only its own words follow, and those of figures that wait or waited.
    told = sorted({key, *opened.pending, *opened.waited})
    if wants_part() and by is not None:
        # A held key asks again and again: plan and own value at once, the rest when it is let go.
        answer = _render("bench/_answer.html", opened, limits, key=key, told=told, taken={key: text})
        return answer, {"HX-Retarget": "#plan"}
    # A figure that was left shows its usual notation, and so does everything that followed from it; while
    # it is being typed the fields are let alone.
    if wants_part() and "settled" not in request.args:
        return _render("bench/_answer.html", opened, key=key, told=told)
    return _answer(opened, taken={key: text}, limits=limits)


@pages.post("/setups/<int:setup_id>/remedies/<way>/<remedy>")
def remedy(setup_id: int, way: str, remedy: str) -> ResponseReturnValue:
    """Try a remedy of a way."""
    with as_offered(services.SETUPS, setup_id):
        opened = services.try_remedy(wiring().store, wiring().clock, setup_id, way, remedy)
    return _answer(opened)


@pages.post("/setups/<int:setup_id>/lights")
def add_light(setup_id: int) -> ResponseReturnValue:
    """One more light in a role, like another where `like` says so."""
    like = request.form.get("like", type=int)
    role = request.form.get("role", "")
    with as_offered(services.SETUPS, setup_id):
        opened = services.add_light(wiring().store, wiring().clock, setup_id, role, like)
    return _answer(opened)


@pages.post("/setups/<int:setup_id>/lights/<int:index>/remove")
def remove_light(setup_id: int, index: int) -> ResponseReturnValue:
    """One light less."""
    with as_offered(services.SETUPS, setup_id):
        opened = services.remove_light(wiring().store, wiring().clock, setup_id, index)
    return _answer(opened)


@pages.post("/setups/<int:setup_id>/lights/<int:index>/kit")
def put_in_kit(setup_id: int, index: int) -> ResponseReturnValue:
    """A light that was typed, into the kit, where it can be measured."""
    with as_offered(services.SETUPS, setup_id):
        number = services.put_in_kit(wiring().store, wiring().clock, setup_id, index)
    return redirect(url_for("kit.piece", gear_id=number), 303)


@pages.post("/setups/<int:setup_id>/estimate")
def estimate(setup_id: int) -> ResponseReturnValue:
    """Every zone as the day's light gives it."""
    return _answer(services.use_estimate(wiring().store, wiring().clock, setup_id))


@pages.get("/setups/<int:setup_id>/days/<int:shoot_id>/<int:index>/<key>")
def best_time(setup_id: int, shoot_id: int, index: int, key: str) -> str:
    """When a method of a set-up holds on a day that it is part of."""
    if key not in WAYS:
        abort(404)
    day = shoots.open_shoot(wiring().store, wiring().clock, shoot_id)
    look = slot_detail(day, index, request.args.get("least", ""), "")
    if look is None or (look.placed.index, look.placed.setup_id) != (index, setup_id):
        abort(404)
    opened = services.open_setup(wiring().store, setup_id)
    heading = f"When it works, {WAYS[key].label}"
    return _part(opened, "bench/_best.html", heading, look=look, method=WAYS[key], leasts=LEAST_RESERVES)


@pages.post("/setups/<int:setup_id>/days/<int:shoot_id>/<int:index>")
def use_forecast(setup_id: int, shoot_id: int, index: int) -> ResponseReturnValue:
    """The set-up in the light of its start on a day; with `method`, moved first to where that method
    holds."""
    store, clock = wiring().store, wiring().clock
    method = WAYS.get(request.form.get("method", ""))
    if method:
        least, _ = LEAST_RESERVES[DEFAULT_LEAST]
        placements.move_to_best(store, clock, shoot_id, index, method, least)
    return _answer(placements.use_forecast(store, clock, setup_id, shoot_id, index))


@pages.post("/setups/<int:setup_id>/days")
def put_on_day(setup_id: int) -> ResponseReturnValue:
    """The set-up on a day (`shoot`, its number), or on a new one at its own place and date."""
    store, clock, given = wiring().store, wiring().clock, request.form.get("shoot", "")
    with once(store, offered_once("day")):
        if given == "new":
            day = shoots.new_day_of(store, clock, setup_id)
        else:
            day = shoots.add_slot(store, clock, int(given) if given.isdecimal() else 0, setup_id)
    return redirect(url_for("shoots.shoot", shoot_id=day.id, look=len(day.shoot.slots) - 1), 303)


@pages.post("/setups/<int:setup_id>/uncorrect")
def undo_corrections(setup_id: int) -> ResponseReturnValue:
    """Everything that frames corrected as it was before them."""
    return _answer(services.undo_corrections(wiring().store, wiring().clock, setup_id))


@pages.post("/setups/<int:setup_id>/pin")
def pin(setup_id: int) -> ResponseReturnValue:
    """Keep this version to compare with (`pinned` 1), or unpin it."""
    pinned = request.form.get("pinned") == "1"
    return _answer(services.pin(wiring().store, wiring().clock, setup_id, pinned))


def _changed_elsewhere(opened: OpenSetUp, window: str) -> bool:
    """Whether another window changed the set-up since this one was last answered, or that was said and
    has not been seen yet."""
    seen = request.form.get("revision", type=int)
    if seen is None:
        return False
    windows = wiring().windows
    windows.wrote(opened.id, opened.revision, window)
    said = request.form.get("elsewhere") == "1"
    return said or windows.others_wrote(opened.id, seen, opened.revision, window)


def _answer(
    opened: OpenSetUp, taken: dict[str, str] | None = None, limits: dict[str, str] | None = None
) -> ResponseReturnValue:
    """The Bench again where the page asked for it, else the page by its address."""
    if wants_part():
        return _render("bench/_bench.html", opened, limits, taken=taken or {})
    if opened.limit:
        return _render("bench/page.html", opened, limits), 422
    look = request.values.get("look") or None
    return redirect(url_for("bench.page", setup_id=opened.id, look=look), 303)


def _render(template: str, opened: OpenSetUp, limits: dict[str, str] | None = None, **more: Any) -> str:
    read_after_act()
    # What this window goes by: a word of its own from when its page was opened.
    window = request.form.get("window") or token_hex(8)
    return render_template(
        template,
        **_of_setup(opened, limits, more.get("taken")),
        elsewhere=_changed_elsewhere(opened, window),
        window=window,
        on_days=placements.days_of(wiring().store, wiring().clock, opened.id, opened.setup),
        days=shoots.days_for(wiring().store),
        once=token_hex(8),
        **more,
    )


def _of_setup(
    opened: OpenSetUp, limits: dict[str, str] | None, taken: dict[str, str] | None
) -> dict[str, Any]:
    """What the templates are given that depends on the set-up alone."""
    fields = Fields(
        FigureForm("bench", "setup_id", opened.id, target="#bench", live=True),
        opened.document,
        opened.entries,
        opened.pending,
        opened.setup,
        limits,
        taken,
    )

    def held(group: Group) -> str:
        """What a page has of a group of figures, as it says it when it asks what changed."""
        said = opened.states[group.key], *(opened.conflicts if "trigger" in group.keys else ())
        return f"{group.key}.{fields.fingerprint(group.keys + group.more, *said)}"

    shown = tuple(lights(opened))

    def held_lights() -> str:
        """The same of its lights."""
        keys = [key for light in shown for key in light.first + light.more]
        said = opened.states["lights"], repr(shown), repr(opened.measured_instead)
        return f"lights.{fields.fingerprint(keys, *said)}"

    return {
        "opened": opened,
        "plan": opened.plan,
        "way": looked_at(opened),
        "look": request.values.get("look", ""),
        "fields": fields,
        "held": held,
        "held_lights": held_lights,
        "groups": GROUPS,
        "orders": ORDERS,
        "order": work_order(),
        "lights": shown,
        "typed": TYPED,
    }


def sample() -> str:
    """The Bench of a fresh set-up, the same each time and without anything of anybody's: what all answers
    of the Bench have most of their text in common with."""
    app = current_app._get_current_object()  # type: ignore[attr-defined]
    with app.app_context(), app.test_request_context("/setups/0"):
        g.csrf_token = ""
        given = _of_setup(services.example(), None, None)
        return render_template(
            "bench/page.html", **given, elsewhere=False, window="", on_days=(), days=(), once=""
        )


add_acts(
    pages,
    services.SETUPS,
    "/setups",
    "setup_id",
    lambda setup_id: _answer(services.open_setup(wiring().store, setup_id)),
    one="bench.page",
    listing="setups.listing",
)
