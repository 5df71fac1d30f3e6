"""How much memory a process holds, the bounds that are kept, and giving back what is held for nothing."""

import ctypes
import gc
import resource
import sys
from pathlib import Path

SERVER_MOST_MB, READER_MOST_MB = 400, 300
"""Bounds of the serving process, and of each process beside it after what it is at."""

STATM = Path("/proc/self/statm")
"""Pages of memory that a process holds; the second figure are those that are in memory (Linux, proc(5))."""

M_TRIM_THRESHOLD, M_MMAP_THRESHOLD, M_ARENA_MAX = -1, -3, -8
"""Parameters of the allocator. Source: malloc.h of the GNU C library, mallopt(3)."""

LARGE_BYTES, LOOSE_BYTES = 1024 * 1024, 8 * 1024 * 1024
"""A piece from so large on is given back at once; of small ones so much may lie loose."""


def keep_small() -> None:
    """Let this process give memory back: one arena for all its threads, where each of its own would keep
    what it ever held, and large pieces on their own. Elsewhere than on the GNU C library nothing is
    done."""
    set_to = _of_libc("mallopt")
    if set_to is not None:
        set_to(M_ARENA_MAX, 1)
        set_to(M_MMAP_THRESHOLD, LARGE_BYTES)
        set_to(M_TRIM_THRESHOLD, LOOSE_BYTES)


def give_back() -> None:
    """Give back to the system what nothing uses any more."""
    gc.collect()
    trim = _of_libc("malloc_trim")
    if trim is not None:
        trim(0)


def held_mb() -> float:
    """Megabytes (10⁶ bytes) that this process holds in memory; the most that it ever held where the system
    does not say."""
    if STATM.exists():
        pages = int(STATM.read_text(encoding="ascii").split()[1])
        return pages * resource.getpagesize() / 1e6
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    return most / 1e6 if sys.platform == "darwin" else most * 1024 / 1e6


def _of_libc(name: str) -> "ctypes._FuncPointer | None":
    if not sys.platform.startswith("linux"):
        return None
    found: ctypes._FuncPointer | None = getattr(ctypes.CDLL(None), name, None)
    return found
