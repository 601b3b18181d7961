"""An edit acknowledged: how long until it is on disk, and how much it writes."""

import gc
import os
import tempfile
from pathlib import Path

import numpy as np
from sqlalchemy import text
from tests.large import large_scene

from benchmarks.figures import seconds, told
from deftarc.core.document import Project
from deftarc.core.edit import EDIT, EditBase
from deftarc.store.database import open_database
from deftarc.store.projects import ProjectStore
from deftarc.web.tidying import HELD


def main() -> None:
    # As the server has it.
    gc.set_threshold(*HELD)
    with tempfile.TemporaryDirectory() as folder:
        store = ProjectStore(open_database(Path(folder)))
        store.create(Project(name="Large", scenes=(large_scene(),)), "p")

        def size() -> int:
            with store.sessions() as session:
                session.execute(text("PRAGMA wal_checkpoint(TRUNCATE)"))
            return os.path.getsize(Path(folder) / "deftarc.sqlite")

        before = size()
        store.open("p")
        runs = []
        for n in range(120):
            edit = EDIT.validate_python(
                {"kind": "set_value", "scene": "large", "layer": f"l{n}", "property": "rotation", "value": n, "time": 0}
            )
            runs.append(seconds(lambda edit=edit, n=n: store.commit("p", n + 1, edit)))
        p95 = float(np.percentile(runs, 95)) * 1e3
        each = (size() - before) / 120 / 1024
        stretched = []
        for n in range(12):
            edit = stretch(store, n)
            stretched.append(seconds(lambda edit=edit: store.commit("p", store.open("p").revision, edit)))
    kept = p95 <= 30 and each <= 16
    told("an edit acknowledged, 200 layers, 5 000 keys", f"p95 {p95:.1f} ms, {each:.1f} KiB", "≤ 30 ms, ≤ 16 KiB", kept)
    took = float(np.median(stretched[2:])) * 1e3
    told("a stretch of all these keys, acknowledged", f"median {took:.0f} ms", "≤ 30 ms", took <= 30)


def stretch(store: ProjectStore, n: int) -> EditBase:
    """All keys stretched: each of the 200 layers is another part then."""
    keys = [
        {"layer": layer.id, "property": name, "time": time}
        for layer in store.open("p").project.scenes[0].layers
        for name in layer.keyed
        for time in layer.track(name).key_times
    ]
    edit = {"kind": "stretch_keys", "scene": "large", "keys": keys, "about": 0, "longer": 1.05 if n % 2 else 0.95}
    return EDIT.validate_python(edit)


if __name__ == "__main__":
    main()
