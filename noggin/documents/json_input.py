"""From bytes to a plain JSON object, refusing whatever another reader might understand differently."""

import json
from collections import Counter
from collections.abc import Mapping
from typing import Any

from noggin.documents.problems import BadDocument, Problem, shown

SIZE_MOST = 1024 * 1024
"""Bytes of a document; larger ones are refused unread."""

DEPTH_MOST = 32
"""Nesting of a document, notes included."""


def read_object(raw: bytes, most: int = SIZE_MOST) -> dict[str, Any]:
    """The one JSON object in `raw` (UTF-8, at most 1 MiB unless said otherwise, no duplicate keys).

    NaN and infinity pass here, so that the field they stand in can be named. Raises BadDocument.
    """
    if len(raw) > most:
        raise _whole(f"the document is larger than {most // 1024} KiB")
    if not raw.strip():
        raise _whole("the document is empty")
    try:
        text = raw.decode("utf-8")
        found = json.loads(text, object_pairs_hook=_unique)
        json.dumps(found, ensure_ascii=False).encode("utf-8")
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        what = error.msg.lower().removesuffix(" at")
        raise _whole(f"this is not JSON: {what} at {where}") from None
    except UnicodeError:
        raise _whole("the document is not UTF-8 text") from None
    except RecursionError:
        raise _whole(f"the document is nested more than {DEPTH_MOST} deep") from None
    except _Spoilt as error:
        raise BadDocument([error.problem]) from None
    except ValueError:
        raise _whole("a number has too many digits") from None
    if not isinstance(found, dict):
        raise _whole(f"the document is {shown(found)}, not an object")
    if _depth(found) > DEPTH_MOST:
        raise _whole(f"the document is nested more than {DEPTH_MOST} deep")
    return found


def check_kind(found: Mapping[str, Any], kind: str, version: int) -> None:
    """Raise BadDocument unless `format` and `version` are ones that can be read."""
    if found.get("format") != kind:
        problem = "is missing" if "format" not in found else f"{shown(found['format'])} is not '{kind}'"
        raise BadDocument([Problem("format", problem)])
    stated = found.get("version")
    if isinstance(stated, bool) or not isinstance(stated, int) or stated < 1:
        problem = "is missing" if "version" not in found else f"{shown(stated)} is not a version"
        raise BadDocument([Problem("version", problem)])
    if stated > version:
        problem = f"{shown(stated)} is newer than {version}, the newest that can be read"
        raise BadDocument([Problem("version", problem)])


def check_notes(notes: Any) -> None:
    """Raise BadDocument for notes that could not be written again."""
    try:
        json.dumps(notes, allow_nan=False)
    except ValueError:
        raise BadDocument([Problem("notes", "holds NaN or infinity")]) from None


class _Spoilt(Exception):
    def __init__(self, path: str, problem: str) -> None:
        super().__init__(problem)
        self.problem = Problem(path, problem)


def _whole(problem: str) -> BadDocument:
    return BadDocument([Problem("", problem)])


def _unique(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    found = dict(pairs)
    if len(found) < len(pairs):
        often = Counter(name for name, _ in pairs)
        twice = next(name for name, times in often.items() if times > 1)
        raise _Spoilt(shown(twice).strip('"'), "appears twice in one object")
    return found


def _depth(found: Any) -> int:
    deepest, level = 0, [found]
    while level:
        deepest += 1
        level = [
            child
            for item in level
            for child in (item.values() if isinstance(item, dict) else item)
            if isinstance(child, dict | list)
        ]
    return deepest
