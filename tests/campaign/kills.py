"""Servers killed at any moment, over edits, uploads, imports, renders and first starts; each folder is looked through.

Servers are forked from a process that has everything loaded, so that a kill costs a tenth of a second and not two.
"""

import json
import multiprocessing
import os
import random
import socket
import sqlite3
import threading
import time
from dataclasses import dataclass, field
from http.client import HTTPException
from pathlib import Path
from urllib.request import Request, urlopen

from tests.hostile.svgs import whole
from tests.serving import form, free_port

FORK = multiprocessing.get_context("forkserver")
FORK.set_forkserver_preload(["deftarc.web.server", "deftarc.demo", "tests.campaign.kills"])
#: What a request raises whose server goes while it is answered.
GONE = (OSError, HTTPException, ValueError)
RECT = {"kind": "rectangle", "width": 90, "height": 60}


def serve(folder, port):
    from deftarc.app.settings import settings
    from deftarc.web.server import run

    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
    run(settings(data=Path(folder), port=port), demo=False)


def begin(folder):
    """Opens a folder and brings it to the newest tables, as a first start does."""
    from deftarc.store.database import open_database

    open_database(Path(folder))


@dataclass
class Told:
    """What came of a campaign."""

    kills: int = 0
    acknowledged: int = 0
    lost: int = 0
    twice: int = 0
    broken: list = field(default_factory=list)


class Killed:
    """A server on a folder that is killed again and again."""

    def __init__(self, folder, seed):
        self.folder, self.dice, self.told = Path(folder), random.Random(seed), Told()
        self.start()
        self.project = self.ask("POST", "/api/projects", {"name": "Ferry"})["id"]
        document = self.ask("GET", f"/api/projects/{self.project}/document")
        self.scene = document["scenes"][0]["id"]
        self.revision = self.ask("POST", f"/api/projects/{self.project}/edits",
                                 {"revision": 1, "edit": {"kind": "add_layer", "scene": self.scene, "id": "gull", "name": "Gull", "artwork": RECT}})["revision"]  # fmt: skip
        self.file = self.raw("GET", f"/api/projects/{self.project}/file")
        #: Of renders: parts that lay there after a kill, by the file they were then.
        self.parts = {}
        self.jobs = []

    def start(self):
        self.port = free_port()
        self.process = FORK.Process(target=serve, args=(str(self.folder), self.port))
        self.process.start()
        for _ in range(1_500):
            try:
                with socket.create_connection(("127.0.0.1", self.port), 0.2):
                    return
            except OSError:
                assert self.process.is_alive(), "the server did not start again"
                time.sleep(0.02)
        raise AssertionError("the server never answered")

    def raw(self, method, path, body=None, kind="application/json"):
        request = Request(f"http://127.0.0.1:{self.port}{path}", body, {"content-type": kind}, method=method)
        with urlopen(request, timeout=20) as answer:
            return answer.read()

    def ask(self, method, path, body=None):
        told = self.raw(method, path, None if body is None else json.dumps(body).encode())
        return json.loads(told) if told else None

    def kill(self):
        self.process.kill()
        self.process.join()
        self.told.kills += 1

    def close(self):
        self.process.terminate()
        self.process.join(10)
        if self.process.is_alive():
            self.process.kill()

    def edited(self, value, edit_id):
        edit = {
            "kind": "set_value",
            "scene": self.scene,
            "layer": "gull",
            "property": "rotation",
            "value": value,
            "time": 0,
        }
        return self.ask(
            "POST", f"/api/projects/{self.project}/edits", {"revision": self.revision, "edit": edit, "edit_id": edit_id}
        )

    def killed_after(self, seconds):
        """A child that kills the server by itself while this process goes on asking."""
        threading.Timer(seconds, self.process.kill).start()

    def one(self, kind):
        """One kill while something of a kind goes on, and the folder looked through after it."""
        getattr(self, kind)()
        self.process.join()
        self.told.kills += 1
        self.start()
        self.look_through()

    def edits(self):
        """Edits one after the other until the kill; the last may be saved without being acknowledged."""
        self.killed_after(self.dice.uniform(0.01, 0.4))
        n = 0
        pending = None
        try:
            while True:
                n += 1
                pending = (self.dice.uniform(-1e6, 1e6), f"{self.told.kills:06}-{n:06}")
                self.revision = self.edited(*pending)["revision"]
                self.told.acknowledged += 1
        except GONE:
            self.pending = pending

    def uploads(self):
        self.killed_after(self.dice.uniform(0.01, 0.5))
        body = form(
            "a.svg",
            whole(f'<rect width="{self.dice.random()}" height="9"/>' * 40),
            {"revision": self.revision, "edit_id": f"up-{self.told.kills:08}"},
        )
        self._posted(f"/api/projects/{self.project}/scenes/{self.scene}/files", body, True)

    def imports(self):
        self.killed_after(self.dice.uniform(0.01, 0.5))
        self._posted("/api/projects/import", form("a.deftarc", self.file), False)

    def renders(self):
        """A kill somewhere on the way of movies, of which two at most are not at their end."""
        self.killed_after(self.dice.uniform(0.05, 4.0))
        try:
            while True:
                states = {
                    each["id"]: each["state"] for each in self.ask("GET", f"/api/projects/{self.project}/renders")
                }
                if sum(states.get(job) in ("waiting", "running") for job in self.jobs) < 2:
                    wanted = {"scene": self.scene, "kind": "mp4", "options": {"scale": 0.2}}
                    self.jobs.append(self.ask("POST", f"/api/projects/{self.project}/renders", wanted)["id"])
                    self.told.acknowledged += 1
                time.sleep(0.05)
        except GONE:
            pass
        self.process.join()
        # Those who painted for the killed server see that it is gone.
        time.sleep(0.8)
        for job in self.jobs:
            for path in (self.folder / "renders" / job).glob("*.made"):
                self.parts[job, path.name] = path.stat().st_ino

    def look_at_renders(self):
        """A part that was made is that very file until its movie is whole; nothing half has a movie's name."""
        folder = self.folder / "renders"
        for (job, name), made in self.parts.items():
            try:
                now = (folder / job / name).stat().st_ino
            except FileNotFoundError:
                if not (folder / f"{job}.mp4").exists():
                    self.told.lost += 1
                continue
            if now != made:
                self.told.twice += 1
        self.told.broken += [path.name for path in folder.glob("*.mp4") if not whole_movie(path)]

    def finish(self):
        """All movies come to their end, and to the same bytes."""
        for job in self.jobs:
            for _ in range(1_200):
                told = self.ask("GET", f"/api/renders/{job}")
                if told["state"] not in ("waiting", "running"):
                    break
                time.sleep(0.1)
            if told["state"] != "done":
                self.told.broken.append(f"{job}: {told['state']} {told['message']}")
        made = {(self.folder / "renders" / f"{job}.mp4").read_bytes() for job in self.jobs}
        if len(made) > 1:
            self.told.broken.append("movies of one scene that differ")

    def _posted(self, path, body, changes):
        try:
            while True:
                answer = json.loads(self.raw("POST", path, body, "multipart/form-data; boundary=wave"))
                self.told.acknowledged += 1
                if changes:
                    self.revision = answer["revision"]
                    body = form(
                        "a.svg",
                        whole(f'<rect width="{self.dice.random()}" height="9"/>' * 40),
                        {"revision": self.revision, "edit_id": f"up-{self.told.acknowledged:08}-x"},
                    )
        except GONE:
            return

    def look_through(self):
        """What was acknowledged is there, what was not is there once or not at all, and all of it opens and draws."""
        told = self.ask("GET", f"/api/projects/{self.project}")
        if told["revision"] < self.revision:
            self.told.lost += self.revision - told["revision"]
        pending = getattr(self, "pending", None)
        if pending is not None:
            # Sent again as a page would: made once, whichever it was.
            before = told["revision"]
            again = self.edited(*pending)
            made = again["revision"]
            if made > self.revision + 1 or (again["repeated"] and made != before):
                self.told.twice += 1
            told = again
            self.pending = None
        self.revision = told["revision"]
        for each in self.ask("GET", "/api/projects"):
            if not self.raw("GET", f"/api/projects/{each['id']}/picture").startswith(b"\x89PNG"):
                self.told.broken.append(each["id"])
        left = (
            [
                path.name
                for path in (self.folder / "renders").glob("*")
                if ".part" in path.name and path.stem.removesuffix(".mp4") not in self.jobs
            ]
            if (self.folder / "renders").exists()
            else []
        )
        left += (
            [path.name for path in (self.folder / "incoming").glob("*")] if (self.folder / "incoming").exists() else []
        )
        self.told.broken += left
        self.look_at_renders()
        with sqlite3.connect(f"file:{self.folder / 'deftarc.sqlite'}?mode=ro", uri=True) as file:
            if file.execute("PRAGMA quick_check").fetchone() != ("ok",):
                self.told.broken.append("the database")
        # Fewer projects to draw the next time.
        for each in self.ask("GET", "/api/projects"):
            if each["id"] != self.project:
                self.ask("DELETE", f"/api/projects/{each['id']}")


def over(folder, kinds, seed=1):
    """Kills over some kinds of work, in turn: {kind: how many}."""
    server = Killed(folder, seed)
    try:
        for kind, count in kinds.items():
            for _ in range(count):
                server.one(kind)
        server.finish()
    finally:
        server.close()
    return server.told


def whole_movie(path):
    import av

    try:
        with av.open(str(path)) as movie:
            return sum(packet.size > 0 for packet in movie.demux(video=0)) > 0
    except av.FFmpegError:
        return False


def first_starts(folder, count, seed=1):
    """Kills while a folder is begun, or brought to the newest tables from the first ones; how many did not start."""
    dice, stuck = random.Random(seed), []
    for n in range(count):
        place = Path(folder) / f"start{n}"
        place.mkdir()
        if n % 2:
            old_tables(place / "deftarc.sqlite")
        process = FORK.Process(target=begin, args=(str(place),))
        process.start()
        time.sleep(dice.uniform(0.0, 0.16))
        process.kill()
        process.join()
        try:
            begin(place)
        except Exception as error:
            stuck.append(f"{n}: {error}")
    return stuck


def old_tables(file):
    """A database as the first version made it."""
    from alembic import command
    from alembic.config import Config
    from sqlalchemy import create_engine

    import deftarc.store

    config = Config()
    config.set_main_option("script_location", str(Path(deftarc.store.__file__).parent / "migrations"))
    engine = create_engine(f"sqlite:///{file}")
    with engine.begin() as connection:
        config.attributes["connection"] = connection
        command.upgrade(config, "0001")
    engine.dispose()
