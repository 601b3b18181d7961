"""Many at once, on a server that runs: clients on different layers, and the heaviest requests while others want a page."""

import http.client
import json
import threading
import time
from dataclasses import dataclass, field

from deftarc.core.document import Project
from tests.large import large_scene


@dataclass
class Came:
    """What came of it: answers at the first try, those refused, and how long each took in seconds."""

    first: int = 0
    refused: int = 0
    other: int = 0
    took: list[float] = field(default_factory=list)
    #: How long whoever asked for a page meanwhile waited.
    waited: list[float] = field(default_factory=list)

    def share(self, of, what=0.95):
        return sorted(of)[min(len(of) - 1, int(len(of) * what))] if of else 0.0


class Client:
    """A program that keeps its connection."""

    def __init__(self, port):
        self.line = http.client.HTTPConnection("127.0.0.1", port, timeout=120)

    def ask(self, method, path, body=None, headers=None):
        data = json.dumps(body).encode() if body is not None else None
        self.line.request(method, path, data, {"content-type": "application/json", **(headers or {})})
        answer = self.line.getresponse()
        return answer.status, answer.read()

    def json(self, *told, **more):
        status, data = self.ask(*told, **more)
        return status, json.loads(data) if data[:1] in b"{[" else {}


def project_file(layers, keys, frames):
    return Project(name="Large", scenes=(large_scene(layers, keys, frames),)).model_dump_json(exclude_defaults=True)


def brought_in(port, text):
    """A project file brought in; its id."""
    edge = "deftarc"
    head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="a.deftarc"\r\n\r\n'
    data = (head + text + f"\r\n--{edge}--\r\n").encode()
    line = http.client.HTTPConnection("127.0.0.1", port, timeout=120)
    line.request("POST", "/api/projects/import", data, {"content-type": f"multipart/form-data; boundary={edge}"})
    return json.loads(line.getresponse().read())["id"]


def on_different_layers(port, project, clients, edits):
    """Clients that each edit a layer of their own, on the revision they last heard of."""
    came, lock = Came(), threading.Lock()

    def work(n):
        client = Client(port)
        revision = client.json("GET", f"/api/projects/{project}")[1]["revision"]
        for k in range(edits):
            edit = {
                "kind": "set_value",
                "scene": "large",
                "layer": f"l{n}",
                "property": "rotation",
                "value": k + 0.25,
                "time": 0,
            }
            begun = time.monotonic()
            status, told = client.json(
                "POST", f"/api/projects/{project}/edits", body={"revision": revision, "edit": edit}
            )
            took = time.monotonic() - begun
            revision = told.get("revision", revision)
            with lock:
                came.took.append(took)
                came.first += status == 200
                came.refused += status == 409
                came.other += status not in (200, 409)

    threads = [threading.Thread(target=work, args=(n,)) for n in range(clients)]
    for each in threads:
        each.start()
    for each in threads:
        each.join()
    return came


def heaviest(port, project, others="/"):
    """Each of the heaviest requests and edits of a large project, and how long another client waits for a page."""
    came, ended = Came(), threading.Event()

    def asks():
        client = Client(port)
        while not ended.is_set():
            begun = time.monotonic()
            client.ask("GET", others, headers={"accept": "text/html"})
            came.waited.append(time.monotonic() - begun)
            time.sleep(0.02)

    client = Client(port)
    # Once, so that no template has to be read first.
    client.ask("GET", others, headers={"accept": "text/html"})
    requests = [
        ("GET", f"/api/projects/{project}/document", None),
        ("GET", f"/api/projects/{project}/file", None),
        ("GET", f"/api/projects/{project}/picture", None),
        ("GET", f"/projects/{project}", None),
        ("GET", f"/api/projects/{project}/scenes/large/frames?count=200", None),
        ("GET", f"/api/projects/{project}/scenes/large/still?width=960&height=540", None),
        ("GET", f"/api/projects/{project}/states", None),
    ]
    thread = threading.Thread(target=asks)
    thread.start()
    took = {}
    try:
        for method, path, body in requests:
            begun = time.monotonic()
            status, _ = client.ask(method, path, body)
            took[path.partition(project)[2] or "/"] = (round(time.monotonic() - begun, 2), status)
        # Not out of the document: to read that would keep this process's other client waiting.
        layers = [layer["id"] for layer in client.json("GET", f"/api/projects/{project}/drawn")[1][0]["layers"]]
        for edit in (
            {"kind": "set_parent", "layers": layers[1:50], "parent": layers[0], "time": 0},
            {"kind": "close_seam"},
            {"kind": "stagger", "layers": layers, "by": "step", "far": 28_224_000},
            {"kind": "copies_of", "layers": layers[:1], "often": 5, "phase": 0.1},
            {"kind": "set_guides", "guides": [{"axis": "x", "at": 4}]},
        ):
            revision = client.json("GET", f"/api/projects/{project}")[1]["revision"]
            begun = time.monotonic()
            status, _ = client.ask(
                "POST", f"/api/projects/{project}/edits", {"revision": revision, "edit": {"scene": "large", **edit}}
            )
            took[edit["kind"]] = (round(time.monotonic() - begun, 2), status)
    finally:
        ended.set()
        thread.join()
    return took, came
