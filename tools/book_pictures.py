"""Makes the pictures of the book in `docs/guide/pictures/` from the set-up documents there: proofs side
by side, and drawings as they stand on a page. `made.json` says what each was made of; a test sees when
that has moved."""

import json
import re
import tempfile
import threading
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass
from hashlib import sha256
from io import BytesIO
from pathlib import Path

import numpy as np
from flask import Flask
from PIL import Image
from playwright.sync_api import sync_playwright

import noggin.figures
from noggin.core import wording
from noggin.core.advice import way_table
from noggin.core.planning.plan import plan
from noggin.core.planning.way import Way
from noggin.core.setup.setup import SetUp
from noggin.documents.json_input import read_object
from noggin.documents.setup import canonical, setup_of
from noggin.photos.encode import encoded
from noggin.services.setups import setups
from noggin.services.setups.proofs import LARGE, SHARED, ProofRecipe, recipe_of
from noggin.web import create_app
from noggin.web.serving.server import listen

FOLDER = Path(__file__).parent.parent / "docs" / "guide" / "pictures"
MADE = FOLDER / "made.json"
FIGURES = Path(noggin.figures.__file__).parent
BETWEEN_PX = 6
"""Paper between two proofs."""


@dataclass(frozen=True)
class Panel:
    """One proof: a way, what of its light is shown (None: all), and the background and share it is meant to
    have (None: as the document says)."""

    way: str
    only: str | None = None
    background: float | None = None
    share: float | None = None


@dataclass(frozen=True)
class Proofs:
    """Proofs of one document side by side."""

    document: str
    panels: tuple[Panel, ...]

    def shown(self) -> Iterator[tuple[SetUp, Way, str | None]]:
        """The set-up and the way that each shows, and which part of the light."""
        for panel in self.panels:
            found = read_object((FOLDER / self.document).read_bytes())
            if panel.background is not None:
                found["intent"]["background_level"] = panel.background
            if panel.share is not None:
                found["intent"]["flash"] = {"school": "share", "share": panel.share}
            setup = setup_of(canonical(found))
            yield setup, plan(setup).way(panel.way), panel.only

    def recipes(self) -> Iterator[ProofRecipe]:
        """What each is computed from."""
        for setup, way, only in self.shown():
            yield recipe_of(setup, way, LARGE).alone(only)

    def made_of(self) -> str:
        """What they show, to what can be seen: settings, levels to a hundredth of a stop, and the
        people."""
        figures = b"".join(path.read_bytes() for path in sorted(FIGURES.glob("*.npz")))
        parts = [sha256(figures).hexdigest()]
        for setup, way, only in self.shown():
            levels = (
                f"{name} {wording.plain(level, 2)}"
                for name, level in asdict(way.lighting.levels).items()
                if level
            )
            parts += [setup.name, way_table.camera_text(way), way_table.power_text(way), str(only), *levels]
        return " ".join(parts)


@dataclass(frozen=True)
class Drawing:
    """A drawing on a page: its address, where `{setup}` is the document's number, and the class of its
    SVG."""

    document: str
    address: str
    drawn: str


PICTURES: dict[str, Proofs | Drawing] = {
    "one-light-at-a-time": Proofs(
        "noon.json", (Panel("nd", "daylight"), Panel("nd", "flash"), Panel("nd"))
    ),
    "four-methods": Proofs("noon.json", (Panel("stop_down"), Panel("nd"), Panel("hss"))),
    "darker-daylight": Proofs(
        "dusk.json",
        tuple(Panel("within_sync", background=level) for level in (0.0, -1.0, -2.0)),
    ),
    "shares": Proofs("dusk.json", tuple(Panel("within_sync", share=share) for share in (0.2, 0.5, 0.8))),
    "the-scale": Drawing("noon.json", "/setups/{setup}", "scale"),
    "a-black-bar": Drawing(
        "noon.json",
        "/practice/shutter?setup={setup}&shutter=focal_plane&sync=1/200&time=1/500&mode=pop&head=cut",
        "shutter-rows",
    ),
}
"""Every picture of the book, by the name of its file."""


def made_of(name: str, page: str = "") -> str:
    """What a picture is made of, as a fingerprint; a drawing is on a `page`."""
    row = PICTURES[name]
    text = row.made_of() if isinstance(row, Proofs) else _drawn(page, row.drawn)
    return sha256(text.encode()).hexdigest()[:20]


def _drawn(page: str, drawn: str) -> str:
    """The drawing of a page, but for numbers that name its proofs."""
    found = re.search(rf'<svg class="{drawn}\b.*?</svg>', page, re.DOTALL)
    if found is None:
        raise LookupError(f"the page has no drawing '{drawn}'")
    return re.sub(r"\s+", " ", found[0])


def file_of(name: str) -> Path:
    """Where a picture lies."""
    return FOLDER / f"{name}.webp"


def with_documents(app: Flask) -> Mapping[str, int]:
    """The numbers under which an application has the documents that are drawn."""
    wiring = app.extensions["noggin"]
    names = {row.document for row in PICTURES.values() if isinstance(row, Drawing)}
    return {
        name: setups.import_setup(
            wiring.store, wiring.clock, canonical(read_object((FOLDER / name).read_bytes()))
        )
        for name in sorted(names)
    }


def main() -> None:
    """Make every picture."""
    made = {}
    for name, row in PICTURES.items():
        if isinstance(row, Proofs):
            images = [SHARED.picture(recipe, small=True).image() for recipe in row.recipes()]
            paper = np.full((images[0].shape[0], BETWEEN_PX, 3), 251, np.uint8)
            beside = [part for image in images for part in (image, paper)][:-1]
            file_of(name).write_bytes(encoded(np.hstack(beside), "webp"))
            made[name] = made_of(name)
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "book.sqlite3"})
        numbers = with_documents(app)
        server = listen(app, "127.0.0.1", 0)
        threading.Thread(target=server.run, daemon=True).start()
        with sync_playwright() as playwright:
            chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium")
            page = chromium.new_page(viewport={"width": 1280, "height": 1600}, device_scale_factor=2)
            for name, row in PICTURES.items():
                if isinstance(row, Drawing):
                    address = row.address.format(setup=numbers[row.document])
                    page.goto(f"http://127.0.0.1:{server.effective_port}{address}")
                    page.wait_for_load_state("networkidle")
                    shot = page.locator(f"svg.{row.drawn}").first.screenshot(type="png")
                    file_of(name).write_bytes(_as_webp(shot))
                    made[name] = made_of(name, app.test_client().get(address).text)
            chromium.close()
        server.close()
    MADE.write_text(json.dumps(made, indent=2) + "\n", encoding="utf-8")


def _as_webp(png: bytes) -> bytes:
    """A screenshot as a small file."""
    with Image.open(BytesIO(png)) as image:
        return encoded(np.asarray(image.convert("RGB")), "webp")


if __name__ == "__main__":
    main()
