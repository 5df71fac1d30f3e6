"""Twelve proofs on one sheet, for the README and to be looked at one by one: would a photographer read the
light from them? Run: python -m tools.proof_sheet [FOLDER for each in full size]"""

import sys
from collections.abc import Callable
from copy import deepcopy
from pathlib import Path
from typing import Any

from PIL import Image, ImageDraw, ImageFont

from noggin.core.layout.findings import Standing
from noggin.core.layout.intentions import BY_KEY, arranged
from noggin.core.planning.plan import plan
from noggin.documents.setup import canonical, setup_of
from noggin.forms.layout_change import with_layout
from noggin.services.setups.proofs import SHARED, recipe_of

SHEET = Path(__file__).parent.parent / "docs" / "screenshots" / "proofs.png"
COLUMNS, SIZE, ROOM, FOOT = 3, (390, 260), 6, 22

BASE: Any = {
    "format": "noggin-setup",
    "version": 1,
    "name": "Noon",
    "scene": {
        "subject_distance_m": 3.2,
        "background_distance_m": 60,
        "ev100": {"background": 14.6, "subject": 12.0, "sky": 15.1, "rim": 15.2},
        "people": [{"skin": "fair", "wears": "white dress"}, {"skin": "medium", "wears": "dark suit"}],
    },
    "intent": {"background_level": -1.0, "aperture": 2.0},
    "camera": {"sync_s": "1/200"},
    "lens": {"focal_mm": 85, "widest": 1.4, "smallest": 16},
    "filters": [{"name": "6-stop ND", "stops": 6}, {"name": "3-stop ND", "stops": 3}],
    "lights": [
        {"name": "Key", "role": "key", "gn_m": 60, "distance_m": 1.9, "radius_m": 0.55, "hss_toll": 1.1}
    ],
}
"""The noon couple that each of them departs from."""

Change = Callable[[dict[str, Any]], str]


def _noon(_: dict[str, Any]) -> str:
    return "nd"


def _speedlight(found: dict[str, Any]) -> str:
    found["lights"][0].update(
        gn_m=29, radius_m=0.0, distance_m=1.6, angle_deg=60, beam="narrow", hss_toll=2.4
    )
    return "nd"


def _black(found: dict[str, Any]) -> str:
    found["intent"].update(background_level=-5.5, aperture=8.0)
    found["scene"].update(background_distance_m=25)
    found["scene"]["ev100"] = {"background": 11.0, "subject": 10.0}
    return "stop_down"


def _dusk(found: dict[str, Any]) -> str:
    found["scene"]["ev100"] = {"background": 6.0, "subject": 4.5, "sky": 7.2}
    found["lights"][0]["gel"] = "quarter_cto"
    rim = {"name": "Rim", "role": "rim", "gn_m": 29, "distance_m": 2.6, "angle_deg": 145, "gel": "full_cto"}
    found["lights"].append({**rim, "hss_toll": 2.4, "relative_level": 1.0})
    return "within_sync"


def _group(found: dict[str, Any]) -> str:
    found["scene"].update(subject_distance_m=6.0, people=[])
    found["scene"]["ev100"].pop("rim")
    found["lens"]["focal_mm"] = 50
    found["intent"]["aperture"] = 8.0
    found["lights"][0].update(gn_m=80, distance_m=3.5)
    return "stop_down group_rows"


def _split(found: dict[str, Any]) -> str:
    found["scene"]["people"] = [{"skin": "deep", "wears": "dark suit"}]
    found["scene"]["ev100"] = {"background": 10.0, "subject": 7.0}
    found["intent"].update(aperture=5.6, subject_level=0.7)
    found["scene"].update(subject_distance_m=2.2, background_distance_m=18)
    found["lights"][0].update(angle_deg=85, radius_m=0.3)
    found["intent"]["background_level"] = -3.0
    return "within_sync"


def _clipped(found: dict[str, Any]) -> str:
    found["scene"]["ev100"].update(rim=16.4, subject=13.2)
    found["intent"].update(background_level=0.5, subject_level=0.7)
    return "nd"


def _sunset(found: dict[str, Any]) -> str:
    found["scene"]["ev100"] = {"background": 8.6, "subject": 6.4, "sky": 9.4, "rim": 9.6}
    place = {"lat": 42.46, "lon": 0.71, "time": "2027-06-19T21:05+02:00", "tz": "Europe/Madrid"}
    found["scene"]["place"] = {**place, "facing_deg": 320, "ground": "grass"}
    found["lights"][0]["gel"] = "half_cto"
    found["intent"]["white_balance_k"] = 4600
    return "within_sync"


def _band(found: dict[str, Any]) -> str:
    found["lights"][0]["hss_toll"] = None
    found["camera"]["fastest_s"] = "1/500"
    found["scene"]["ev100"].update(background=9.9, subject=7.5, sky=10.5)
    found["scene"]["ev100"].pop("rim")
    return "hss"


def _leap(found: dict[str, Any]) -> str:
    found["scene"].update(subject_distance_m=5.5, subject_speed_m_s=2.0)
    found["scene"]["ev100"] = {"background": 7.0, "subject": 5.2, "sky": 7.6}
    found["lens"]["focal_mm"] = 85
    found["camera"]["iso_highest"] = 200
    found["camera"]["slowest_s"] = "1/15"
    found["camera"]["support"] = "tripod"
    found["intent"]["aperture"] = 5.6
    found["scene"]["people"] = [{"skin": "brown", "wears": "mid-tone clothes"}]
    return "within_sync"


def _front(found: dict[str, Any]) -> str:
    found["scene"]["ev100"] = {"background": 14.4, "subject": 13.9, "sky": 14.6}
    place = {"lat": 42.46, "lon": 0.71, "time": "2027-06-19T17:40+02:00", "tz": "Europe/Madrid"}
    found["scene"]["place"] = {**place, "facing_deg": 40, "ground": "grass"}
    found["intent"].update(background_level=0.0, aperture=5.6)
    return "nd"


def _clamshell(found: dict[str, Any]) -> str:
    found["scene"].update(subject_distance_m=1.9, background_distance_m=12)
    found["scene"]["people"] = [{"skin": "brown", "wears": "white dress"}]
    found["lights"][0]["gn_m"] = 25
    found["intent"]["aperture"] = 4.0
    found["scene"]["ev100"] = {"background": 10.6, "subject": 8.4}
    fill = {"name": "Fill", "role": "fill", "gn_m": 20, "distance_m": 1.5, "radius_m": 0.4}
    found["lights"].append({**fill, "hss_toll": 1.1, "relative_level": -1.0})
    return "within_sync clamshell"


SHOWN: tuple[tuple[str, Change], ...] = (
    ("noon, against the sun", _noon),
    ("a bare speedlight", _speedlight),
    ("black behind them", _black),
    ("dusk, a warm rim", _dusk),
    ("a group in rows", _group),
    ("split light", _split),
    ("a dress that clips", _clipped),
    ("a gel at sunset", _sunset),
    ("past sync without high-speed sync", _band),
    ("movement at 1/15 s", _leap),
    ("sun from the front", _front),
    ("clamshell", _clamshell),
)
"""What each is called, and how it departs from the noon couple; a change gives the way, and a placement."""


def rendered(change: Change, size: tuple[int, int]) -> Image.Image:
    """One proof."""
    document = deepcopy(BASE)
    way, _, placement = change(document).partition(" ")
    document = canonical(document)
    if placement:
        document = with_layout(document, arranged(BY_KEY[placement], Standing(setup_of(document))))
    found = plan(setup_of(document))
    return Image.fromarray(SHARED.picture(recipe_of(found.setup, found.way(way), size)).image())


def main() -> None:
    """Write the sheet."""
    rows = -(-len(SHOWN) // COLUMNS)
    width = COLUMNS * (SIZE[0] + ROOM) - ROOM
    sheet = Image.new("RGB", (width, rows * (SIZE[1] + FOOT)), "white")
    pen, font = ImageDraw.Draw(sheet), ImageFont.load_default(14)
    for index, (name, change) in enumerate(SHOWN):
        row, column = divmod(index, COLUMNS)
        x, y = column * (SIZE[0] + ROOM), row * (SIZE[1] + FOOT)
        sheet.paste(rendered(change, SIZE), (x, y))
        pen.text((x + 1, y + SIZE[1] + 2), name, fill="#101417", font=font)
        if len(sys.argv) > 1:
            rendered(change, (900, 600)).save(Path(sys.argv[1]) / f"{index + 1:02}.png")
    sheet.save(SHEET, optimize=True)


if __name__ == "__main__":
    main()
