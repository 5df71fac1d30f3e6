"""What tests share: the noon example, a running application, random set-ups."""

import json
import os
import shutil
import tempfile
import unittest
from copy import deepcopy
from dataclasses import asdict, replace
from datetime import UTC, datetime
from functools import cache
from pathlib import Path
from random import Random
from typing import Any
from zoneinfo import ZoneInfo

from argon2 import PasswordHasher
from flask import Flask
from flask.testing import FlaskClient
from hypothesis import settings as settings_of_cases
from hypothesis import strategies as st
from werkzeug.test import TestResponse

from noggin.core.daylight.place import Moment, Place
from noggin.core.physics import dials
from noggin.core.physics.battery import Battery
from noggin.core.physics.filters import NO_FILTER, Filter, Stack
from noggin.core.physics.pulse import Pulse
from noggin.core.planning.lighting import Settings
from noggin.core.setup.camera import Camera, Lens
from noggin.core.setup.intent import Intent
from noggin.core.setup.light import Light, LightUncertainty
from noggin.core.setup.scene import Scene
from noggin.core.setup.setup import SetUp
from noggin.services.whole.demo import load_demo_once
from noggin.store.store import Store
from noggin.web import create_app
from noggin.web.shared.wiring import Wiring

DATA = Path(__file__).parent / "data"


EXPLORE = int(os.environ.get("NOGGIN_EXPLORE", 0))
"""How many cases of each law are tried, where somebody asks for more than usual."""

settings_of_cases.register_profile("house", max_examples=EXPLORE or 50, deadline=None)
settings_of_cases.load_profile("house")


def fewer(count: int) -> settings_of_cases:
    """For a law whose cases are slow: so many of them, or as many as NOGGIN_EXPLORE asks for."""
    return settings_of_cases(max_examples=EXPLORE or count)


NOON: dict[str, Any] = {
    "format": "noggin-setup",
    "version": 1,
    "name": "Noon, backlit couple",
    "scene": {
        "subject_distance_m": 3.2,
        "background_distance_m": 40,
        "ev100": {"background": 14.6, "subject": 12},
    },
    "intent": {"background_level": -1, "aperture": 2},
    "camera": {"sync_s": "1/200"},
    "lens": {"focal_mm": 85, "widest": 1.8, "smallest": 16},
    "filters": [{"name": "6-stop ND", "stops": 6}],
    "lights": [{"name": "Large head", "role": "key", "gn_m": 60, "distance_m": 2.5, "hss_toll": 1.1}],
}
"""A backlit couple at noon at f/2, with a large head and one filter: the example that is worked by hand."""


def noon_with(path: str, value: Any) -> dict[str, Any]:
    """The noon document with one field changed: `noon_with("scene.ev100.background", 41)`."""
    document = deepcopy(NOON)
    *way, last = [int(step) if step.isdigit() else step for step in path.split(".")]
    part: Any = document
    for step in way:
        part = part[step]
    part[last] = value
    return document


def raw(document: Any) -> bytes:
    """A document as bytes."""
    return json.dumps(document).encode()


LIGHT = Light(60, 2.5, name="Large head", hss_toll=1.1)


def noon(**changes: Any) -> SetUp:
    """The noon set-up as core values, with parts replaced."""
    setup = SetUp(
        name="Noon, backlit couple",
        scene=Scene(3.2, 40, 14.6, 12.0),
        intent=Intent(-1.0, 2.0),
        camera=Camera(1 / 200),
        lens=Lens(85, 1.8, 16),
        lights=(LIGHT,),
        filters=(Filter("6-stop ND", 6, 6),),
    )
    parts = {name: getattr(setup, name) for name in ("scene", "intent", "camera", "lens")}
    for name, part in parts.items():
        wanted = {key: changes.pop(key) for key in list(changes) if hasattr(part, key)}
        parts[name] = replace(part, **wanted)
    return replace(setup, **parts, **changes)


def settings(shutter: str, f_number: float, iso: int = 100, stack: Stack = NO_FILTER) -> Settings:
    """Settings by their labels, on third-stop dials."""
    shutters = {step.label: step for step in dials.shutter_dial(3).steps}
    return Settings(
        shutters[shutter],
        dials.aperture_dial(3).nearest(dials.aperture_stops(f_number)),
        dials.iso_dial().nearest(dials.iso_stops(iso)),
        stack,
    )


PULSES = st.builds(
    Pulse, st.sampled_from(["cut", "voltage"]), st.sampled_from([1 / 300, 1 / 1000, 1 / 6000])
)
BATTERIES = st.builds(Battery, st.floats(50, 1000), st.floats(0.5, 5))
MOMENT = Moment(Place(42.46, 0.71), datetime(2027, 6, 19, 16, 20, tzinfo=ZoneInfo("Europe/Madrid")))

LIGHTS = st.builds(
    Light,
    gn_m=st.floats(8, 120),
    distance_m=st.floats(0.5, 20),
    loss=st.floats(-1, 4),
    radius_m=st.floats(0, 1),
    count=st.integers(1, 4),
    power_min=st.sampled_from([1 / 16, 1 / 128, 1 / 256]),
    power_step=st.sampled_from([1 / 3, 0.1, 1.0]),
    scale=st.sampled_from(["fraction", "decimal"]),
    hss_toll=st.none() | st.floats(0, 3),
    gel=st.none() | st.sampled_from(["full_cto", "quarter_cto"]),
    group=st.sampled_from(["", "A", "B"]),
    channel=st.none() | st.integers(1, 3),
    faces_m=st.just(()) | st.tuples(st.floats(1, 4), st.floats(1, 6)),
    pulse=st.none() | PULSES,
    battery=st.none() | BATTERIES,
    uncertainty=st.builds(LightUncertainty, st.floats(0, 1), st.floats(0, 1), st.floats(0, 1)),
)
"""Any key light."""


@st.composite
def setups(draw: st.DrawFn, lights: st.SearchStrategy[Light] = LIGHTS) -> SetUp:
    """Any set-up a photographer could bring, and some they would not."""
    widest = draw(st.sampled_from([1.4, 1.8, 2.8, 4.0]))
    smallest = draw(st.sampled_from([11.0, 16.0, 22.0]))
    subject_m = draw(st.floats(1.0, 30))
    key = draw(lights)
    others = draw(st.lists(st.tuples(st.sampled_from(["fill", "rim", "background"]), lights), max_size=2))
    spans = draw(st.lists(st.tuples(st.floats(0.3, 10), st.sampled_from([0.0, 0.0, 1.5, 3.1])), max_size=3))
    school = draw(st.sampled_from(["total", "match", "share", "auto"]))
    lowest = draw(st.sampled_from([50, 64, 100, 200]))
    return SetUp(
        name="any",
        scene=Scene(
            subject_m,
            subject_m + draw(st.floats(0, 500)),
            draw(st.floats(-2, 17)),
            draw(st.floats(-4, 16)),
            sky=draw(st.none() | st.floats(0, 18)),
            rim=draw(st.none() | st.floats(0, 17)),
            subject_speed_m_s=draw(st.sampled_from([0.0, 0.0, 1.4, 5.0])),
            faces_m=draw(st.just(()) | st.tuples(st.just(subject_m), st.floats(1, 30))),
            gust_m_s=draw(st.none() | st.floats(0, 15)),
            moment=draw(st.none() | st.just(MOMENT)),
        ),
        intent=Intent(
            draw(st.floats(-4, 1)),
            draw(st.sampled_from([f for f in (1.4, 2.0, 2.8, 4.0, 8.0) if widest <= f <= smallest])),
            draw(st.floats(-1, 1)),
            school,
            0.3 if school == "share" else None,
            draw(st.sampled_from(["reach", "speed", "glass"])),
            blur_least_pct=draw(st.none() | st.floats(0, 5)),
            frames=draw(st.none() | st.integers(10, 1000)),
        ),
        camera=Camera(
            draw(st.sampled_from([1 / 160, 1 / 200, 1 / 250, 1 / 2000, 1 / 8000])),
            slowest_s=draw(st.sampled_from([1 / 60, 1 / 15, 1.0])),
            iso_lowest=lowest,
            iso_highest=draw(st.sampled_from([400, 6400])),
            dial_steps=draw(st.sampled_from([1, 2, 3])),
            hss=draw(st.booleans()),
            shutter=draw(st.sampled_from(["focal_plane", "focal_plane", "leaf", "global", "rolling"])),
            iso_base=draw(st.none() | st.just(max(lowest, 100))),
        ),
        lens=Lens(draw(st.sampled_from([24, 85, 200])), widest, smallest),
        lights=(key, *(replace(light, role=role) for role, light in others)),
        filters=tuple(
            Filter(f"filter {index}", least, least + more) for index, (least, more) in enumerate(spans)
        ),
    )


def document_of(setup: SetUp) -> dict[str, Any]:
    """A set-up written as its document, field by field."""
    scene, intent, camera, lens = setup.scene, setup.intent, setup.camera, setup.lens
    place = scene.moment and {
        "lat": scene.moment.place.lat,
        "lon": scene.moment.place.lon,
        "sky": scene.moment.place.sky,
        "ground": scene.moment.place.ground,
        "time": scene.moment.time.isoformat(),
        "tz": str(scene.moment.time.tzinfo),
    }
    found = {
        "format": "noggin-setup",
        "version": 1,
        "name": setup.name,
        "scene": {
            "subject_distance_m": scene.subject_distance_m,
            "background_distance_m": scene.background_distance_m,
            "ev100": {zone: getattr(scene, zone) for zone in ("background", "subject", "sky", "rim")},
            "subject_speed_m_s": scene.subject_speed_m_s,
            "face_distances_m": list(scene.faces_m),
            "gust_m_s": scene.gust_m_s,
            "place": place,
        },
        "intent": {
            "background_level": intent.background_level,
            "subject_level": intent.subject_level,
            "flash": {"school": intent.school, "share": intent.share},
            "aperture": intent.aperture,
            "prefer": intent.prefer,
            "blur_least_pct": intent.blur_least_pct,
            "frames": intent.frames,
        },
        "camera": asdict(camera),
        "lens": asdict(lens),
        "filters": [{"name": f.name, "stops": [f.least, f.most]} for f in setup.filters],
        "lights": [_light_document(light) for light in setup.lights],
    }
    read: dict[str, Any] = json.loads(json.dumps(found))
    return read


def _light_document(light: Light) -> dict[str, Any]:
    found = asdict(light)
    found["face_distances_m"] = list(found.pop("faces_m"))
    uncertainty = found.pop("uncertainty")
    found["uncertainty"] = {
        "gn_m": uncertainty["gn"],
        "loss": uncertainty["loss"],
        "hss_toll": uncertainty["toll"],
    }
    return found


NOW = datetime(2027, 6, 19, 9, 40, tzinfo=UTC)


SCRATCH = tempfile.TemporaryDirectory(prefix="noggin-tests-")
"""What the tests of this run share: databases to copy, compiled templates."""

SETTINGS: dict[str, Any] = {
    "CLOCK": lambda: NOW,
    "TESTING": True,
    "WTF_CSRF_ENABLED": False,
    "TEMPLATE_CACHE": Path(SCRATCH.name),
}
"""How an application is made for tests."""


@cache
def ready_database(name: str) -> Path:
    """A database at the newest migration, to be copied: `empty`, or `demo` with the demo in it."""
    path = Path(SCRATCH.name) / f"{name}-{os.getpid()}.sqlite3"
    store = Store.on_file(path)
    if name == "demo":
        load_demo_once(store, lambda: NOW)
    store.close()
    return path


class Client(FlaskClient):
    """A client that lets go of what it sent: a large form is spooled into a file (Werkzeug's
    `stream_encode_multipart`), which nobody closes otherwise."""

    def open(self, *args: Any, **options: Any) -> TestResponse:
        """The answer to a request."""
        answer = super().open(*args, **options)
        for asked in (*answer.history, answer):
            asked.request.environ["wsgi.input"].close()
        return answer


@cache
def application() -> Flask:
    """The application of this process: it keeps nothing itself, so that each test puts a store of its own
    behind it."""
    app = create_app({**SETTINGS, "DATABASE": ready_database("empty")})
    app.extensions["noggin"].store.close()
    app.test_client_class = Client
    return app


CHEAP = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
"""For pass-phrases that guard nothing: a hash that costs no time."""


class AppCase(unittest.TestCase):
    """A test with an application on a database of its own: an empty one, or the demo's where `database`
    says so."""

    database = "empty"

    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.path = Path(folder.name) / "noggin.sqlite3"
        shutil.copy(ready_database(self.database), self.path)
        self.app = application()
        self.app.config.update(SETTINGS)
        self.store = Store.on_file(self.path)
        self.addCleanup(self.store.close)
        chance = Random(self.id())  # noqa: S311 - the same in every run
        self.wiring = self.app.extensions["noggin"] = Wiring(self.store, SETTINGS["CLOCK"], chance)
        self.client = self.app.test_client()
