"""The whole campaign, part by part, and a table of what came of it: ``make campaign``, or the parts named."""

import sys
import tempfile
import time
import warnings
from collections import Counter
from pathlib import Path

from fastapi.testclient import TestClient

from deftarc.web.reading import shared
from deftarc.web.server import create_app
from tests.campaign import calls, kills
from tests.hostile.test_files import KINDS, sent
from tests.running import TESTED
from tests.scenes import gull, layer, project
from tests.web.test_page_shows_what_is import quay
from tests.wild_edits import Wild

ROWS = []


def told(what, figure):
    ROWS.append((what, figure))
    print(f"{what}: {figure}", flush=True)


def folder():
    return tempfile.TemporaryDirectory(prefix="deftarc-campaign-")


def edits(count=10_000):
    accepted = refused = seed = 0
    while accepted + refused < count:
        with folder() as place:
            wild = Wild(Path(place), quay(), 50_000 + seed)
            for n in range(80):
                wild.step(look=n % 8 == 7)
            wild.back_to_the_beginning()
            accepted, refused, seed = accepted + wild.accepted, refused + wild.refused, seed + 1
    told(
        f"{accepted + refused:,} random edits at and beyond every limit",
        f"{accepted:,} accepted: all reopen equal, evaluate, draw, export, come back, are undone exactly; {refused:,} refused in a sentence",
    )


def killing(count=500):
    starts = count * 2 // 5
    with folder() as place:
        stuck = kills.first_starts(place, starts)
    told(
        f"{starts} kills during a first start or a migration",
        f"{len(stuck)} folders that do not start" + (f" {stuck[:3]}" if stuck else ""),
    )
    rest = (count - starts) // 6
    with folder() as place:
        came = kills.over(place, {"edits": 3 * rest, "uploads": rest, "imports": rest, "renders": rest})
    told(
        f"{came.kills} kills over edits, uploads, imports, renders; {came.acknowledged:,} acknowledged",
        f"{came.lost} lost, {came.twice} made twice, {len(came.broken)} left broken {came.broken[:3] or ''}",
    )


def calling(count=5_000):
    with folder() as place:
        came = calls.over(Path(place), count)
    codes = Counter({code // 100: 0 for code in came.codes})
    for code, number in came.codes.items():
        codes[code // 100] += number
    told(
        f"{came.made:,} generated calls of the whole API, on real ids",
        f"{len(came.broken)} answers of 5xx; "
        + ", ".join(f"{n:,} × {code}xx" for code, n in sorted(codes.items()))
        + (f" {came.broken[:3]}" if came.broken else ""),
    )


def memory(pid):
    """(now, at most) in MB of a process."""
    rows = dict(line.split(":", 1) for line in Path(f"/proc/{pid}/status").read_text().splitlines())
    return tuple(int(rows[name].split()[0]) / 1024 for name in ("VmRSS", "VmHWM"))


def files():
    slowest, grown, count, codes = (0.0, ""), (0.0, ""), 0, Counter()
    with folder() as place:
        app = create_app(Path(place), hosts=TESTED)
        app.state.workshop.projects.create(project(gull(), layer("Ferry")), "p")
        with TestClient(app, raise_server_exceptions=False) as client:
            for kind, (made, _, _) in KINDS.items():
                for name, data in made().items():
                    readers = shared()
                    # Its own process each, so that what it took at most is this file's.
                    for process in list(readers._idle):
                        readers._idle.remove(process)
                        process.end()
                    readers.warm()
                    process = readers._idle[0]
                    time.sleep(0.0)
                    began = time.monotonic()
                    while memory(process.popen.pid)[0] < 60 and time.monotonic() - began < 5:
                        time.sleep(0.02)
                    before = memory(process.popen.pid)[0]
                    begun = time.monotonic()
                    answer = sent(client, kind, name, data)
                    seconds = time.monotonic() - begun
                    try:
                        most = memory(process.popen.pid)[1]
                    except (FileNotFoundError, KeyError):
                        most = before
                    count += 1
                    codes[answer.status_code] += 1
                    slowest = max(slowest, (seconds, f"{kind}: {name}"))
                    grown = max(grown, (most - before, f"{kind}: {name}"))
    told(
        f"{count} hostile files",
        f"{sum(n for code, n in codes.items() if code >= 500)} answers of 5xx; the slowest {slowest[0]:.1f} s ({slowest[1]}), the largest {grown[0]:.0f} MB more ({grown[1]})",
    )


PARTS = {"edits": edits, "kills": killing, "calls": calling, "files": files}


def main():
    warnings.simplefilter("ignore")
    for name in sys.argv[1:] or PARTS:
        begun = time.monotonic()
        PARTS[name]()
        print(f"  ({name}: {time.monotonic() - begun:.0f} s)", flush=True)
    print("\n| what | what came of it |\n|---|---|")
    for what, figure in ROWS:
        print(f"| {what} | {figure} |")


if __name__ == "__main__":
    main()
