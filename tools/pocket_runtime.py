"""Fetches what the pocket edition runs on: Python for a browser, and the packages that Noggin's pages need.

`python -m tools.pocket_runtime` needs pip and npm. What comes of it is kept in the repository with
versions, hashes and licences; neither running nor testing Noggin fetches anything."""

import subprocess
import sys
import tarfile
import tempfile
import zipfile
from collections.abc import Iterator
from hashlib import sha256
from importlib.resources import files
from io import BytesIO
from pathlib import Path, PurePosixPath

from noggin import pocket

PYODIDE = "314.0.7"
"""The npm package `pyodide`: CPython 3.14 for WebAssembly."""

RUNTIME = ("pyodide.mjs", "pyodide.asm.mjs", "pyodide.asm.wasm", "python_stdlib.zip")

PLATFORM = ("--python-version", "3.14", "--implementation", "cp", "--abi", "cp314", "--abi", "none")
PLATFORMS = ("--platform", "pyemscripten_2026_0_wasm32", "--platform", "any")

WANTED = (
    *("alembic", "annotated-types", "astral", "blinker", "click", "defusedxml", "deprecated", "exifread"),
    *("flask", "flask-compress", "flask-limiter", "flask-login", "flask-talisman", "flask-wtf", "fsrs"),
    *("gpxpy", "icalendar", "itsdangerous", "jinja2", "limits", "mako", "markdown-it-py", "mdurl"),
    *("ordered-set", "packaging", "pydantic", "pydantic-core", "python-dateutil", "segno", "sqlalchemy"),
    *("sqlmodel", "typing-extensions", "typing-inspection", "tzdata", "werkzeug", "wrapt", "wtforms"),
)
"""Packages of requirements.txt that the pages import; the others need a compiler, or numpy."""

FROM_SOURCE = "markupsafe"
"""Has no build for this platform; its half in C is left out."""

LEFT_OUT = ("tests", "test", "testing", "plugins", "__pycache__")
UNUSED = ("pydantic/v1", "werkzeug/debug", "sqlalchemy/ext/mypy", "pydantic/mypy.py")
"""What no page asks for."""

KINDS_LEFT_OUT = (".pyi", ".pyx", ".pxd", ".c", ".h", ".pyd", ".tab")

LICENCES = {
    "MPL-2.0.txt": "/usr/share/common-licenses/MPL-2.0",
    "PSF-2.0.txt": "/usr/lib/python3.11/LICENSE.txt",
}
"""Texts of the runtime's licences, as Debian ships them."""


def main() -> None:
    """Writes everything anew."""
    folder = Path(str(files(pocket) / "vendor"))
    folder.mkdir(exist_ok=True)
    with tempfile.TemporaryDirectory() as scratch:
        rows = [*_runtime(Path(scratch), folder), *_packages(Path(scratch), folder)]
    table = "\n".join(f"| {' | '.join(row)} |" for row in rows)
    heads = "| what | version | licence | SHA-256 of what was fetched |\n|---|---|---|---|"
    for licence, text in LICENCES.items():
        (folder / licence).write_bytes(Path(text).read_bytes())
    (folder / "README.md").write_text(f"{ABOUT}\n{heads}\n{table}\n", encoding="utf-8")


ABOUT = """# What the pocket edition runs on

Fetched by `python -m tools.pocket_runtime`: without tests, type stubs and sources in C; Python as byte code
of this very runtime, without its docstrings. The licence of each package lies in its `dist-info` inside
`packages.tar.xz`; those of the runtime lie beside this file.
"""


def _runtime(scratch: Path, folder: Path) -> Iterator[tuple[str, str, str, str]]:
    _run("npm", "pack", "--silent", f"pyodide@{PYODIDE}", "--pack-destination", str(scratch))
    packed = scratch / f"pyodide-{PYODIDE}.tgz"
    with tarfile.open(packed) as archive:
        for name in RUNTIME:
            member = archive.extractfile(f"package/{name}")
            (folder / name).write_bytes(member.read() if member else b"")
    yield "pyodide", PYODIDE, "MPL-2.0, with CPython under PSF-2.0", f"`{_digest(packed)}`"


def _packages(scratch: Path, folder: Path) -> Iterator[tuple[str, str, str, str]]:
    pinned = dict(
        line.split("==") for line in Path("requirements.txt").read_text("utf-8").split() if "==" in line
    )
    inside: dict[str, bytes] = {}
    for name in (*WANTED, FROM_SOURCE):
        fetched = _fetch(name, pinned[name], scratch / name)
        found = dict(_source(fetched) if name == FROM_SOURCE else _wheel(fetched))
        inside |= found
        yield name, pinned[name], _licence(found), f"`{_digest(fetched)}`"
    inside = _as_byte_code(inside, scratch)
    with tarfile.open(folder / "packages.tar.xz", "w:xz", preset=9) as archive:
        for path in sorted(inside):
            member = tarfile.TarInfo(path)
            member.size = len(inside[path])
            archive.addfile(member, BytesIO(inside[path]))


COMPILE = """
import { loadPyodide } from "%(runtime)s/pyodide.mjs";
const python = await loadPyodide({ indexURL: "%(runtime)s/" });
python.FS.mkdirTree("/tree");
python.FS.mount(python.FS.filesystems.NODEFS, { root: "%(tree)s" }, "/tree");
python.runPython(`
import compileall, py_compile
compileall.compile_dir("/tree", maxlevels=20, quiet=2, legacy=True, optimize=2, stripdir="/tree",
                       invalidation_mode=py_compile.PycInvalidationMode.UNCHECKED_HASH)
`);
"""
"""Has the fetched Python itself, under Node, compile what lies in a folder: byte code is of one version."""


def _as_byte_code(inside: dict[str, bytes], scratch: Path) -> dict[str, bytes]:
    """The same with byte code in the place of sources: a phone need not compile them at every start."""
    tree = scratch / "tree"
    for path, content in inside.items():
        (tree / path).parent.mkdir(parents=True, exist_ok=True)
        (tree / path).write_bytes(content)
    _run("tar", "-xzf", str(scratch / f"pyodide-{PYODIDE}.tgz"), "-C", str(scratch))
    script = scratch / "compile.mjs"
    script.write_text(COMPILE % {"runtime": scratch / "package", "tree": tree}, encoding="utf-8")
    _run("node", str(script))
    compiled = {path: tree / f"{path}c" for path in inside if path.endswith(".py")}
    done = {path for path, found in compiled.items() if found.exists()}
    kept = {path: content for path, content in inside.items() if path not in done}
    return kept | {f"{path}c": compiled[path].read_bytes() for path in done}


def _fetch(name: str, version: str, to: Path) -> Path:
    kind = ("--no-binary", name) if name == FROM_SOURCE else (*PLATFORM, *PLATFORMS, "--only-binary=:all:")
    pip = sys.executable, "-m", "pip", "download", "-q", "--no-deps"
    _run(*pip, *kind, "-d", str(to), f"{name}=={version}")
    (fetched,) = to.iterdir()
    return fetched


def _wheel(fetched: Path) -> Iterator[tuple[str, bytes]]:
    with zipfile.ZipFile(fetched) as wheel:
        for path in wheel.namelist():
            if _is_wanted(PurePosixPath(path)):
                yield path, wheel.read(path)


def _source(fetched: Path) -> Iterator[tuple[str, bytes]]:
    with tarfile.open(fetched) as archive:
        for member in archive.getmembers():
            path = PurePosixPath(member.name)
            parts = path.parts[1:]
            content = archive.extractfile(member)
            if content is None:
                continue
            if parts[0] == "src" and path.suffix == ".py" and "egg-info" not in path.parts[2]:
                yield "/".join(parts[1:]), content.read()
            if parts in {("LICENSE.txt",), ("PKG-INFO",)}:
                name = {"PKG-INFO": "METADATA"}.get(parts[0], f"licenses/{parts[0]}")
                yield f"{path.parts[0]}.dist-info/{name}", content.read()


def _is_wanted(path: PurePosixPath) -> bool:
    if path.suffix in KINDS_LEFT_OUT or path.name == "RECORD" or path.name.endswith("/"):
        return False
    unused = any(path.is_relative_to(folder) for folder in UNUSED)
    return not (unused or any(part in LEFT_OUT for part in path.parts[:-1]))


def _licence(found: dict[str, bytes]) -> str:
    about = next(found[path] for path in found if path.endswith(".dist-info/METADATA")).decode()
    lines = dict(line.split(": ", 1) for line in about.split("\n\n")[0].splitlines() if ": " in line)
    classed = [line.rsplit(" :: ", 1)[1] for line in about.splitlines() if "Classifier: License ::" in line]
    return lines.get("License-Expression") or ", ".join(classed) or lines.get("License", "see dist-info")


def _digest(fetched: Path) -> str:
    return sha256(fetched.read_bytes()).hexdigest()


def _run(*command: str) -> None:
    subprocess.run(command, check=True)  # noqa: S603 - names and versions of this file


if __name__ == "__main__":
    main()
