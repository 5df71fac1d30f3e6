"""Makes the photograph of the demo's orchard, once: an invented place, drawn in linear light and written
as a camera writes it, then brought in like anybody's. Run, then `python -m tools.demo`:

    python -m tools.demo_place
"""

import json
import sys
import tempfile
from io import BytesIO
from math import radians, tan
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from PIL.ExifTags import IFD, Base
from PIL.TiffImagePlugin import IFDRational

import noggin.demo
from noggin.core.physics.srgb import srgb
from noggin.services.clock import system_clock
from noggin.services.setups import place_photograph
from noggin.services.setups.setups import import_setup, open_setup
from noggin.store.store import Store

DEMO = Path(noggin.demo.__file__).parent
SETUP = DEMO / "setups" / "2-orchard-wall-speedlight.json"
SIZE, FIELD_DEG, HORIZON = (1500, 1000), 69.4, 0.46

Light = NDArray[np.float32]


def grain(cell: int, seed: int) -> Light:
    """Soft noise from 0 to 1 with patches of so many pixels."""
    width, height = SIZE
    random = np.random.default_rng(seed).random((height // cell + 2, width // cell + 2)).astype(np.float32)
    return np.asarray(Image.fromarray(random).resize(SIZE, Image.Resampling.BICUBIC))


def tinted(tone: Light, colour: tuple[float, float, float]) -> Light:
    """A tone in a colour."""
    return (tone[..., None] * np.array(colour, np.float32)).astype(np.float32)


def orchard() -> Light:
    """Sky, hills, an orchard's wall with fruit trees before it, and a path through the grass; linear."""
    width, height = SIZE
    focal = width / (2 * tan(radians(FIELD_DEG) / 2))
    y, x = np.mgrid[:height, :width].astype(np.float32)
    across, up = np.arctan((x - width / 2) / focal), np.arctan((HORIZON * height - y) / focal)
    found = tinted(0.70 + 0.5 * np.clip(1 - 2 * up, 0, 1), (0.22, 0.29, 0.41))
    hills = up < 0.07 + 0.03 * np.sin(4 * across + 1) + 0.012 * np.sin(11 * across)
    found[hills] = tinted(0.8 + 0.4 * grain(34, 1), (0.16, 0.21, 0.17))[hills]
    wall = (up < 0.045) & (up > -0.03)
    found[wall] = tinted(0.75 + 0.5 * grain(12, 2), (0.36, 0.33, 0.27))[wall]
    leaves = tinted(0.7 * grain(8, 8) + 0.5 * grain(26, 9), (0.11, 0.19, 0.065))
    edge = 0.8 + 0.5 * grain(17, 7)
    for middle, wide, high in (
        (-0.45, 0.13, 0.22),
        (-0.17, 0.08, 0.14),
        (0.2, 0.11, 0.19),
        (0.5, 0.1, 0.16),
    ):
        trunk = (np.abs(across - middle) < 0.008) & (up < 0.4 * high) & (up > -0.06)
        found[trunk] = (0.06, 0.05, 0.04)
        crown = ((across - middle) / wide) ** 2 + ((up - 0.62 * high) / (0.55 * high)) ** 2 < edge
        found[crown] = leaves[crown]
    ground = up < -0.03
    grass = tinted(0.5 * grain(5, 11) + 0.7 * grain(21, 12), (0.12, 0.17, 0.06))
    found[ground] = grass[ground]
    path = ground & (np.abs((x - 0.52 * width) / np.maximum(y - HORIZON * height, 1) - 0.1) < 0.25)
    found[path] = tinted(0.8 + 0.3 * grain(6, 13), (0.32, 0.28, 0.22))[path]
    return found


def as_taken(linear: Light) -> bytes:
    """The file of a phone: 1/2500 s, f/1.8, ISO 25 at ten to one."""
    exif = Image.Exif()
    exif[Base.Model] = "Phone"
    settings = exif.get_ifd(IFD.Exif)
    settings[Base.ExposureTime], settings[Base.FNumber] = IFDRational(1, 2500), IFDRational(18, 10)
    settings[Base.ISOSpeedRatings], settings[Base.FocalLengthIn35mmFilm] = 25, 26
    settings[Base.DateTimeOriginal], settings[Base.OffsetTimeOriginal] = "2027:06:19 12:50:00", "+02:00"
    out = BytesIO()
    image = Image.fromarray((255 * srgb(linear) + 0.5).astype(np.uint8))
    image.save(out, "JPEG", quality=90, exif=exif)
    return out.getvalue()


def main() -> None:
    """Write the copy that is kept, and what was read off it into the set-up."""
    document = json.loads(SETUP.read_text(encoding="utf-8"))
    document["scene"].pop("photograph", None)
    with tempfile.TemporaryDirectory() as folder:
        store = Store.on_file(Path(folder) / "noggin.sqlite3")
        number = import_setup(store, system_clock, document)
        place_photograph.bring(store, system_clock, number, as_taken(orchard()), "orchard.jpg")
        place_photograph.look_so(store, system_clock, number, HORIZON, FIELD_DEG)
        written = open_setup(store, number).document["scene"]["photograph"]
        jpeg = store.photographs.get(written["sha256"])
        store.close()
    (DEMO / "places").mkdir(exist_ok=True)
    (DEMO / "places" / "orchard.jpg").write_bytes(jpeg or b"")
    document["scene"]["photograph"] = written
    SETUP.write_text(json.dumps(document, indent=2, ensure_ascii=False) + "\n", encoding="utf-8")
    for zone, read in written["zones"].items():
        sys.stdout.write(f"{zone}: EV {read['ev100']} ± {read['uncertainty']}\n")


if __name__ == "__main__":
    main()
