"""Everything as open documents: one file each, in a folder or a ZIP, by names that a person can read.

`kit.json`, `setups/0001-name.json` and `shoots/0001-name.json`; what else lies there is left alone. An
archive that would be far larger unpacked than Noggin ever writes is refused before it is unpacked.
"""

import io
import json
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from noggin.core.wording import slug
from noggin.documents.json_input import read_object
from noggin.documents.problems import BadDocument, Problem

Files = Iterable[tuple[str, bytes]]

FILES_MOST = 20_000
FILE_MOST = 64 * 1024 * 1024
"""Bytes of one file of an archive, unpacked: a kit with all its readings is the largest."""

ALL_MOST = 256 * 1024 * 1024
"""Bytes of all files together, unpacked."""

WRITTEN_AT = (1980, 1, 1, 0, 0, 0)
"""Every file of a ZIP has the format's earliest date, so that the same documents give the same bytes."""


def text_of(document: Any) -> bytes:
    """A document as it is written to a file."""
    return (json.dumps(document, indent=2, ensure_ascii=False) + "\n").encode()


def file_name(folder: str, number: int, name: str) -> str:
    """Where a document goes: in the order of its folder, by its name."""
    return f"{folder}/{number:04d}-{slug(name)}.json"


def zipped(files: Files) -> bytes:
    """The files in one ZIP."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in files:
            entry = zipfile.ZipInfo(name, WRITTEN_AT)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o600 << 16
            archive.writestr(entry, content)
    return out.getvalue()


def write_folder(files: Files, folder: Path) -> int:
    """Write the files below a folder, which must be new or empty; how many. Raises FileExistsError,
    OSError."""
    folder.mkdir(parents=True, exist_ok=True)
    if any(folder.iterdir()):
        raise FileExistsError(f"{folder} is not empty")
    count = 0
    for name, content in files:
        (folder / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / name).write_bytes(content)
        count += 1
    return count


def read_path(path: Path) -> Iterator[tuple[str, dict[str, Any]]]:
    """Documents by their names from a folder, a ZIP or one file, in the order of the names. Raises
    BadDocument, OSError."""
    if path.is_dir():
        names = sorted(path.rglob("*.json"))
        _check_sizes([(str(name), name.stat().st_size) for name in names])
        for name in names:
            yield _read(str(name.relative_to(path)), name.read_bytes())
    elif zipfile.is_zipfile(path):
        if path.stat().st_size > ALL_MOST:
            raise BadDocument([Problem(path.name, f"is larger than {ALL_MOST // 1024**2} MiB")])
        yield from read_zip(path.read_bytes())
    else:
        _check_sizes([(path.name, path.stat().st_size)])
        yield _read(path.name, path.read_bytes())


def read_zip(raw: bytes) -> Iterator[tuple[str, dict[str, Any]]]:
    """Documents by their names from a ZIP, in the order of the names. Raises BadDocument."""
    try:
        with zipfile.ZipFile(io.BytesIO(raw)) as archive:
            entries = [entry for entry in archive.infolist() if entry.filename.endswith(".json")]
            _check_sizes([(entry.filename, entry.file_size) for entry in entries])
            for entry in sorted(entries, key=lambda entry: entry.filename):
                with archive.open(entry) as file:
                    yield _read(entry.filename, file.read(entry.file_size + 1))
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, EOFError, zlib.error) as error:
        raise BadDocument([Problem("", f"this is not a ZIP that can be read: {error}")]) from None


def _check_sizes(files: list[tuple[str, int]]) -> None:
    if len(files) > FILES_MOST:
        raise BadDocument([Problem("", f"there are more than {FILES_MOST:,} documents")])
    for name, size in files:
        if size > FILE_MOST:
            raise BadDocument([Problem(name, f"is larger than {FILE_MOST // 1024**2} MiB")])
    if sum(size for _, size in files) > ALL_MOST:
        raise BadDocument([Problem("", f"all of it is larger than {ALL_MOST // 1024**2} MiB")])


def _read(name: str, raw: bytes) -> tuple[str, dict[str, Any]]:
    try:
        return name, read_object(raw, FILE_MOST)
    except BadDocument as bad:
        raise BadDocument([Problem(name, str(fault)) for fault in bad.problems]) from None
