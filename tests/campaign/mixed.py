"""Several clients of a server that runs, each doing anything: any kind of edit, undo, files out and in, pages, pictures."""

import json
import random
import threading
import time
from collections import Counter
from dataclasses import dataclass, field

from deftarc.core.document import Project
from tests.campaign.busy import Client
from tests.prepared_edits import all_prepared
from tests.serving import form
from tests.wild_edits import Dice

PAGES = ("/", "/projects/{p}", "/renders", "/projects/{p}/parts/scene", "/projects/{p}/parts/shelf", "/parts/projects")
READ = ("/api/projects/{p}", "/api/projects/{p}/states", "/api/projects/{p}/picture", "/api/projects/{p}/drawn",
        "/api/projects/{p}/scenes/{s}/frames?start=0&count=20", "/api/projects/{p}/scenes/{s}/still?width=96&height=54",
        "/api/projects/{p}/scenes/{s}/seam", "/api/projects/{p}/motions")  # fmt: skip


@dataclass
class Mixed:
    asked: int = 0
    edits: int = 0
    codes: Counter = field(default_factory=Counter)
    #: By kind, how many edits were accepted.
    accepted: Counter = field(default_factory=Counter)
    broken: list = field(default_factory=list)


class Clients:
    """So many of them at one server, with one project to two: they meet."""

    def __init__(self, port, seed=1):
        self.port, self.came, self.lock = port, Mixed(), threading.Lock()
        self.seed, self.ended = seed, threading.Event()
        self.projects = [self.brought_in() for _ in range(2)]

    def brought_in(self, data=None):
        text = all_prepared().model_dump_json(exclude_defaults=True).encode() if data is None else data
        status, told = self.ask(Client(self.port), "POST", "/api/projects/import", form("a.deftarc", text))
        return told["id"] if status == 200 or status == 201 else None

    def ask(self, client, method, path, body=None):
        if isinstance(body, bytes):
            client.line.request(method, path, body, {"content-type": "multipart/form-data; boundary=wave"})
            answer = client.line.getresponse()
            status, data = answer.status, answer.read()
        else:
            status, data = client.ask(method, path, body)
        with self.lock:
            self.came.asked += 1
            self.came.codes[status] += 1
            if status >= 500:
                self.came.broken.append((method, path, status, data[:200]))
        try:
            return status, json.loads(data)
        except ValueError:
            return status, data

    def work(self, n):
        dice, client = random.Random(self.seed * 100 + n), Client(self.port)
        wild, mine = Dice(self.seed * 100 + n, self.came.accepted), self.projects[n % 2]
        revision, project = 0, None
        while not self.ended.is_set():
            if project is None or dice.random() < 0.1:
                revision = self.ask(client, "GET", f"/api/projects/{mine}")[1]["revision"]
                project = Project.model_validate(self.ask(client, "GET", f"/api/projects/{mine}/document")[1])
            what = dice.random()
            if what < 0.7:
                edit = wild.edit(project)
                try:
                    body = json.dumps({"revision": revision, "edit": edit}, allow_nan=False)
                    json.loads(body.encode())
                except (UnicodeEncodeError, ValueError):
                    continue
                status, told = self.ask(client, "POST", f"/api/projects/{mine}/edits", json.loads(body))
                with self.lock:
                    self.came.edits += 1
                    self.came.accepted[edit["kind"]] += status == 200
                if status == 200:
                    revision = told["revision"]
                elif status == 409:
                    project = None
            elif what < 0.8:
                body = {"revision": revision, "count": dice.choice([1, 1, 5, 30])}
                status, told = self.ask(client, "POST", f"/api/projects/{mine}/{dice.choice(['undo', 'redo'])}", body)
                project = None
            elif what < 0.97:
                path = dice.choice(PAGES + READ).format(p=mine, s=dice.choice(project.scenes).id)
                self.ask(client, "GET", path)
            else:
                self.out_and_in(client, mine)

    def out_and_in(self, client, mine):
        """A project file taken out and in again, and what came of it removed."""
        status, data = self.ask(client, "GET", f"/api/projects/{mine}/file")
        if status != 200 or not isinstance(data, bytes):
            return
        status, told = self.ask(client, "POST", "/api/projects/import", form("a.deftarc", data))
        if status >= 400:
            with self.lock:
                self.came.broken.append(("import", mine, status, told))
            return
        self.ask(client, "DELETE", f"/api/projects/{told['id']}")


def over(port, seconds, clients=6, seed=1):
    """Clients at work for so long; what came of it, and the ids of the projects they worked on."""
    hands = Clients(port, seed)
    failed = []

    def work(n):
        try:
            hands.work(n)
        except Exception as error:
            failed.append(repr(error))

    threads = [threading.Thread(target=work, args=(n,)) for n in range(clients)]
    for each in threads:
        each.start()
    ends = time.monotonic() + seconds
    while time.monotonic() < ends and any(each.is_alive() for each in threads):
        time.sleep(0.2)
    hands.ended.set()
    for each in threads:
        each.join()
    hands.came.broken += failed
    return hands.came, hands.projects
