"""What the hundredth frame of a take costs, as a ratio to the third: the whole request, in processor time
of the same run. Frames agree with each other (all is right), or contradict each other (said a little over
and under in turns), which tries every fault from early on.


Run: python -m benchmarks.hundredth
"""

import tempfile
from pathlib import Path
from statistics import median
from time import process_time

from noggin.services.whole.demo import load_demo_once
from noggin.web import create_app

FRAMES = 100
WANTED = 1.5


def main() -> None:
    """Print medians and the ratio for both."""
    for words, said in (
        ("frames that agree", (("right", "right"),)),
        ("frames that contradict each other", (("right", "a little over"), ("a little under", "right"))),
    ):
        times = _times(said)
        early, late = median(times[2:7]), median(times[-5:])
        print(f"{words}: third to seventh {1e3 * early:.0f} ms, last five {1e3 * late:.0f} ms,", end=" ")
        print(f"ratio {late / early:.2f} (at most {WANTED} where they agree)")


def _times(said: tuple[tuple[str, str], ...]) -> list[float]:
    with tempfile.TemporaryDirectory() as folder:
        app = create_app({"DATABASE": Path(folder) / "noggin.sqlite3", "WTF_CSRF_ENABLED": False})
        wired = app.extensions["noggin"]
        load_demo_once(wired.store, wired.clock)
        setup, client = wired.store.setups.newest(1)[0][0], app.test_client()
        times = []
        for number in range(FRAMES):
            background, face = said[number % len(said)]
            figures = {
                "frames": str(number),
                "once": f"{number:08x}",
                "saw-background": background,
                "saw-subject": face,
                "flash": "1" if number else "0",
            }
            begun = process_time()
            answer = client.post(
                f"/setups/{setup}/shoot/frames", data=figures, headers={"HX-Request": "true"}
            )
            times.append(process_time() - begun)
            if answer.status_code != 200:
                raise SystemExit(f"frame {number + 1}: {answer.status}")
        wired.store.close()
        return times


if __name__ == "__main__":
    main()
