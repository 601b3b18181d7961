"""Writes the golden files of the format that is written now: run it before a format is changed, never after.

They hold a project with a thing of every kind, as a project file, as the parts of a store, and what it showed.
"""

import json
import sys
import tempfile
from base64 import b64encode
from pathlib import Path

from sqlalchemy import text
from tests.everything import everything, pictured
from tests.web.live.test_page_shows_what_is import quay

from deftarc.app.workshop import Workshop
from deftarc.core.document.upgrade import FORMAT
from deftarc.demo import install
from deftarc.formats.origins import with_origin

FOLDER = Path(__file__).parents[1] / "tests" / "golden"


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    name = FOLDER / f"format-{FORMAT}"
    if name.with_suffix(".deftarc").exists() and "--again" not in sys.argv:
        raise SystemExit(f"{name}.deftarc is there: a golden file is written once.")
    with tempfile.TemporaryDirectory() as folder:
        shop = Workshop.at(Path(folder))
        install(shop.projects, shop.assets)
        demo = shop.projects.open("quillhaven").project
        project = everything(quay(), demo).changed(fonts=demo.fonts)
        first, *rest = project.scenes
        came, kept = with_origin((rest[0],), "harbour.json")
        assert kept is not None
        shop.assets.put([kept])
        project = project.changed(scenes=(first, *came, *rest[1:]))
        shop.projects.create(project, "golden")
        name.with_suffix(".deftarc").write_bytes(shop.export("golden"))
        name.with_suffix(".pictured.json").write_text(json.dumps(pictured(project, shop.materials.shaper.form)))
        with shop.sessions() as session:
            root = shop.projects.root_of("golden")[1]
            rows = session.execute(text("SELECT hash, body FROM parts")).all()
        parts = {hash: b64encode(body).decode() for hash, body in rows}
        name.with_suffix(".parts.json").write_text(json.dumps({"root": root, "parts": parts}))


if __name__ == "__main__":
    main()
