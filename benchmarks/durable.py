"""What it costs that a change is on the disk before it is acknowledged: a commit with PRAGMA synchronous
FULL against NORMAL, on the file system of the temporary folder. Run: make benchmark
"""

import sqlite3
import tempfile
import time
from contextlib import closing
from pathlib import Path
from statistics import median

ROUNDS = 200


def main() -> None:
    """Print both medians and their ratio."""
    with tempfile.TemporaryDirectory() as folder:
        times = {mode: _commit_ms(Path(folder) / mode, mode) for mode in ("NORMAL", "FULL")}
    for mode, taken in times.items():
        print(f"a commit with synchronous={mode}: median {taken:.2f} ms")
    print(f"ratio: {times['FULL'] / times['NORMAL']:.1f}")


def _commit_ms(path: Path, mode: str) -> float:
    with closing(sqlite3.connect(path, isolation_level=None)) as connection:
        connection.execute("PRAGMA journal_mode=WAL")
        connection.execute(f"PRAGMA synchronous={mode}")
        connection.execute("CREATE TABLE kept (document TEXT)")
        taken = []
        for _ in range(ROUNDS):
            began = time.perf_counter()
            connection.execute("BEGIN IMMEDIATE")
            connection.execute("INSERT INTO kept VALUES (?)", ("x" * 2000,))
            connection.execute("COMMIT")
            taken.append(1000 * (time.perf_counter() - began))
    return median(taken)


if __name__ == "__main__":
    main()
