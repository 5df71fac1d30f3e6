"""The pocket edition as the files of a static site: the pages' shell, what runs Python in a browser,
Noggin's own code, and on wish what the studio keeps."""

import json
from collections.abc import Iterable, Iterator
from functools import cache
from hashlib import sha256
from importlib.resources import files
from pathlib import Path, PurePosixPath

from noggin.documents.archive import write_folder, zipped
from noggin.services.clock import Clock
from noggin.services.whole.interchange import everything
from noggin.services.whole.opening import Store

PACKAGE = Path(str(files("noggin")))

LEFT_OUT = (
    "cli",
    "pocket/static",
    "pocket/vendor",
    "web/serving",
    "photos/vendor",
    "gazetteer/towns.sqlite3",
)
"""Of Noggin's own package: what a phone cannot run, and what fills it without need."""

BOOK = PACKAGE.parent / "docs/guide"

KINDS_LEFT_OUT = frozenset((".pyc", ".npz"))
"""Python of another version; people for proofs."""

SHELL = ("index.html", "pocket.css", "shell.js", "python_host.js")

NOT_FOR_A_PHONE = ("places", "pictures")
"""Folders of documents that are pictures: a phone has nothing that checks them, or draws with them."""

ICONS = ("icon-192.png", "icon-512.png", "icon-maskable-512.png")

Site = dict[str, bytes]
"""Every file of the site by its address under the site's own."""


def for_a_phone(store: Store, clock: Clock) -> Iterator[tuple[str, bytes]]:
    """Every document that a phone can use."""
    for name, content in everything(store, clock):
        if name.split("/")[0] not in NOT_FOR_A_PHONE:
            yield name, content


def pocket_site(given: Iterable[tuple[str, bytes]] = ()) -> Site:
    """The whole site; `given` are open documents that it brings along, by their names."""
    site = dict(_program())
    site["given.zip"] = zipped(given)
    listed = {name: sha256(content).hexdigest()[:16] for name, content in sorted(site.items())}
    version = sha256(json.dumps(listed).encode()).hexdigest()[:16]
    worker = (PACKAGE / "pocket/static/service_worker.js").read_text("utf-8")
    # The first page goes by the site's own address: some hosts send on who asks for it by its name.
    addresses = [name.removesuffix("index.html") for name in listed]
    heads = f"const VERSION = {json.dumps(version)};\nconst FILES = {json.dumps(addresses)};\n"
    return site | {"service_worker.js": (heads + worker).encode()}


def pocket_zip(given: Iterable[tuple[str, bytes]] = ()) -> bytes:
    """The same in one file."""
    return zipped(pocket_site(given).items())


def write_pocket(target: Path, given: Iterable[tuple[str, bytes]] = ()) -> int:
    """Write the site into a folder that is new or empty, or as one file where it is called `.zip`; how many
    bytes it has. Raises FileExistsError, OSError."""
    site = pocket_site(given)
    if target.suffix == ".zip":
        target.write_bytes(zipped(site.items()))
    else:
        write_folder(site.items(), target)
    return sum(map(len, site.values()))


@cache
def _program() -> Site:
    """What is the same for everybody."""
    own, static = PACKAGE / "pocket", PACKAGE / "web/static"
    site = {name: (own / "static" / name).read_bytes() for name in SHELL}
    site["manifest.webmanifest"] = (own / "static/manifest.webmanifest").read_bytes()
    site |= {f"icons/{name}": (static / "icons" / name).read_bytes() for name in ICONS}
    site |= {f"vendor/{path.name}": path.read_bytes() for path in sorted((own / "vendor").iterdir())}
    site["noggin.zip"] = zipped(_own_code())
    return site


def _own_code() -> Iterator[tuple[str, bytes]]:
    for chapter in sorted(BOOK.glob("*.md")):
        yield f"docs/guide/{chapter.name}", chapter.read_bytes()
    for path in sorted(PACKAGE.rglob("*")):
        inside = path.relative_to(PACKAGE).as_posix()
        if path.is_file() and path.suffix not in KINDS_LEFT_OUT and not _is_left_out(inside):
            yield f"noggin/{inside}", path.read_bytes()


def _is_left_out(inside: str) -> bool:
    return any(PurePosixPath(inside).is_relative_to(part) for part in LEFT_OUT)
