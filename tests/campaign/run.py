"""The whole campaign, part by part, and a table of what came of it: ``make campaign``, or the parts named."""

import subprocess
import sys
import tempfile
import threading
import time
import warnings
from collections import Counter
from pathlib import Path

from fastapi.testclient import TestClient

from deftarc.app.readers import shared
from deftarc.app.workshop import Workshop
from deftarc.web.server import create_app
from tests.campaign import busy, calls, kills, long, mixed
from tests.campaign.long import memory
from tests.every_edit import EDITS
from tests.hostile.test_files import KINDS, sent
from tests.prepared_edits import FONT_FILE, PREPARED, SCENES_FILE, all_prepared, named_files
from tests.running import TESTED
from tests.scenes import gull, layer, project
from tests.serving import Server
from tests.web.live.test_page_shows_what_is import quay
from tests.wild_edits import Wild

ROWS = []


def told(what, figure):
    ROWS.append((what, figure))
    print(f"{what}: {figure}", flush=True)


def folder():
    return tempfile.TemporaryDirectory(prefix="deftarc-campaign-")


def edits(count=10_000):
    accepted = refused = seed = 0
    kinds = Counter()
    while accepted + refused < count:
        with folder() as place:
            wild = Wild(Path(place), all_prepared() if seed % 2 else quay(), 50_000 + seed, kinds)
            for n in range(80):
                wild.step(look=n % 8 == 7)
            wild.back_to_the_beginning()
            accepted, refused, seed = accepted + wild.accepted, refused + wild.refused, seed + 1
    told(
        f"{accepted + refused:,} random edits at and beyond every limit",
        f"{accepted:,} accepted, of {of_all(kinds)}: all reopen equal, evaluate, draw, export, come back, are undone exactly; {refused:,} refused in a sentence",
    )


def by_hundreds(codes):
    """How many answers there were of each hundred."""
    counts = Counter()
    for code, number in codes.items():
        counts[code // 100] += number
    return ", ".join(f"{n:,} × {hundred}xx" for hundred, n in sorted(counts.items()))


def of_all(accepted):
    """How many of all kinds of edits there are were accepted."""
    kinds = {kind for kind, *_ in (*EDITS, *PREPARED)}
    missing = sorted(kind for kind in kinds if not accepted[kind])
    return f"{len(kinds) - len(missing)} of {len(kinds)} kinds" + (f" (not {', '.join(missing)})" if missing else "")


def mixing(minutes=12):
    """Clients that do anything at once; what they were answered is there after the server was killed."""
    with folder() as place:
        data = Path(place) / "data"
        shop = Workshop.at(data)
        shop.assets.put([FONT_FILE, SCENES_FILE])
        # What no project names would be gone at the start.
        shop.projects.create(named_files())
        server = Server(data).ready()
        try:
            came, projects = mixed.over(server.port, 60 * minutes)
            paths = [f"/api/projects/{each}/document" for each in projects]
            before = [server.ask("GET", path) for path in paths]
            server.kill()
            server = Server(data).ready()
            same = sum(server.ask("GET", path) == was for path, was in zip(paths, before, strict=True))
        finally:
            server.kill()
    told(
        f"{minutes} minutes of 6 clients that do anything at once: {came.asked:,} requests, {came.edits:,} of them edits",
        f"{sum(came.accepted.values()):,} accepted, of {of_all(came.accepted)}; {len(came.broken)} broken {came.broken[:3] or ''}; "
        + by_hundreds(came.codes)
        + f"; {same} of {len(projects)} projects as they were after a kill",
    )


def lasting(count=2_000, drags=300):
    with folder() as place:
        server = Server(Path(place) / "data", "--demo").ready()
        try:
            held, troubles = long.over(server, count, drags)
        finally:
            server.kill()
    told(
        f"{count:,} edits and {drags} drags in one page: its heap and the server",
        "; ".join(f"after {each.edits:,}: {each}" for each in (held[1], held[len(held) // 2], held[-1]))
        + (f"; errors {troubles[:3]}" if troubles else ""),
    )


def tested(what, *paths):
    """A part that is a few whole tests."""
    made = subprocess.run(
        [sys.executable, "-m", "pytest", "-q", *paths], capture_output=True, text=True, cwd=Path(__file__).parents[2]
    )
    told(what, made.stdout.strip().splitlines()[-1].strip("= "))


def markup():
    tested(
        "a project all of whose texts are markup, in Chromium and delivered",
        "tests/e2e/test_markup.py",
        "tests/e2e/test_attacks.py",
    )


def farm():
    tested("schedulers and workers of a farm killed", "tests/app/test_farm.py")


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
    told(
        f"{came.made:,} generated calls of the whole API, on real ids",
        f"{len(came.broken)} answers of 5xx; "
        + by_hundreds(came.codes)
        + (f" {came.broken[:3]}" if came.broken else ""),
    )


class Watch(threading.Thread):
    """What the reading processes take at most, looked at again and again: one that is ended cannot be asked."""

    def __init__(self):
        super().__init__(daemon=True)
        self.most = 0.0
        self.start()

    def run(self):
        while True:
            for process in list(shared()._all):
                self.most = max(self.most, memory(process.popen.pid))
            time.sleep(0.02)


def files():
    slowest, grown, count, codes, watch = (0.0, ""), (0.0, ""), 0, Counter(), Watch()
    with folder() as place:
        app = create_app(Path(place), hosts=TESTED)
        app.state.workshop.projects.create(project(gull(), layer("Ferry")), "p")
        with TestClient(app, raise_server_exceptions=False) as client:
            sent(client, "rows", "sound", b"seconds,value\n0,1\n1,2\n")
            fresh = max(memory(process.popen.pid) for process in shared()._all)
            for kind, (made, _, _) in KINDS.items():
                for name, data in made().items():
                    watch.most = 0.0
                    begun = time.monotonic()
                    answer = sent(client, kind, name, data)
                    seconds = time.monotonic() - begun
                    count += 1
                    codes[answer.status_code] += 1
                    slowest = max(slowest, (seconds, f"{kind}: {name}"))
                    grown = max(grown, (watch.most - fresh, f"{kind}: {name}"))
    told(
        f"{count} hostile files",
        f"{sum(n for code, n in codes.items() if code >= 500)} answers of 5xx; the slowest {slowest[0]:.1f} s ({slowest[1]}), the largest {grown[0]:.0f} MB more ({grown[1]})",
    )


def together():
    """Clients on different layers, and the heaviest requests while another client wants a page."""
    with folder() as place:
        server = Server(Path(place) / "data").ready()
        try:
            small = busy.brought_in(server.port, busy.project_file(40, 5, 600))
            came = busy.on_different_layers(server.port, small, 12, 50)
            share = came.first / max(1, came.first + came.refused + came.other)
            told(
                "12 clients on different layers, 50 edits each",
                f"{share:.1%} at the first try; p95 {came.share(came.took):.2f} s, the slowest {max(came.took):.2f} s",
            )
            large = busy.brought_in(server.port, busy.project_file(200, 200, 6_000))
            fresh = memory(server.process.pid)
            took, came = busy.heaviest(server.port, large)
            told(
                "the heaviest requests and edits of 200 layers × 1 000 keys",
                "; ".join(f"{name} {seconds:.1f} s" for name, (seconds, _) in took.items()),
            )
            told(
                "another client that wants a page meanwhile",
                f"waits {came.share(came.waited):.2f} s (p95), at most {max(came.waited):.2f} s",
            )
            most = memory(server.process.pid)
            time.sleep(35)
            told(
                "memory of the server: with the large project read in, at its most, and at rest",
                f"{fresh:.0f}, {most:.0f}, {memory(server.process.pid):.0f} MB",
            )
        finally:
            server.kill()


PARTS = {"edits": edits, "kills": killing, "calls": calling, "files": files, "together": together, "mixed": mixing,
         "long": lasting, "markup": markup, "farm": farm}  # fmt: skip


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
