"""The application object: the stores, the materials, and who listens to which project."""

import asyncio
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from io import BytesIO
from pathlib import Path

from PIL import Image

from deftarc.core.document import Logo, Picture, Project, Scene, assets_of
from deftarc.core.edit import AddLayer, EditBase
from deftarc.core.errors import Refusal
from deftarc.core.evaluate import evaluate, frame_times
from deftarc.formats.archive import ProjectFile, read_project, write_project
from deftarc.formats.bring_in import BroughtIn, bring_in
from deftarc.formats.materials import Materials
from deftarc.paint.scene_painter import painter_for
from deftarc.paint.skia_painter import blank, unpremultiplied
from deftarc.store.assets import AssetStore
from deftarc.store.database import open_database
from deftarc.store.jobs import JobStore
from deftarc.store.projects import OpenProject, ProjectStore

#: The longer side of a project's picture on the start page, px.
PICTURE_WIDTH = 360


@dataclass
class Workshop:
    """Everything a running server has. One a data folder."""

    folder: Path
    projects: ProjectStore
    assets: AssetStore
    jobs: JobStore
    materials: Materials
    #: Called with (project id, revision) after every change; see live.py.
    listeners: dict[str, set[Callable[[int], None]]] = field(default_factory=dict)
    loop: asyncio.AbstractEventLoop | None = None

    @classmethod
    def at(cls, folder: Path) -> "Workshop":
        sessions = open_database(folder)
        assets = AssetStore(sessions)
        return cls(folder, ProjectStore(sessions), assets, JobStore(sessions), Materials(assets.read))

    def commit(self, project_id: str, revision: int, edit: EditBase) -> OpenProject:
        """Checks that an edit's artwork can be drawn, commits it and tells whoever looks at the project."""
        if isinstance(edit, AddLayer):
            self._check_artwork(edit)
        return self.announce(self.projects.commit(project_id, revision, edit))

    def announce(self, opened: OpenProject) -> OpenProject:
        for listener in list(self.listeners.get(opened.id, ())):
            if self.loop is not None:
                self.loop.call_soon_threadsafe(listener, opened.revision)
        return opened

    def _check_artwork(self, edit: AddLayer) -> None:
        art = edit.artwork
        needed = (
            {art.asset} if isinstance(art, Picture) else {art.asset, art.source} if isinstance(art, Logo) else set()
        )
        if self.assets.missing(needed):
            raise Refusal("This layer shows a file that is not here. Bring the file in again.")
        self.materials.drawing(art)

    def bring_in(self, data: bytes, file_name: str) -> BroughtIn:
        """Checks a file and keeps what it is made of."""
        brought = bring_in(data, file_name)
        self.assets.put(brought.assets)
        return brought

    def export(self, project_id: str) -> bytes:
        project = self.projects.open(project_id).project
        return export_file(project, self.assets)

    def import_file(self, data: bytes) -> str:
        """A project file taken in as a new project; returns its id."""
        file = read_project(data)
        return self.take(file)

    def take(self, file: ProjectFile) -> str:
        self.assets.put(file.assets.values())
        return self.projects.create(file.project)

    def picture(self, project_id: str) -> bytes:
        """A small PNG of the first scene a third of the way in, for the start page."""
        return _picture(self, self.projects.open(project_id).project)


def export_file(project: Project, assets: AssetStore) -> bytes:
    return write_project(project, assets.read, {name: assets.get(name).media for name in assets_of(project)})


class _ByIdentity:
    """Lets a document, which cannot be hashed, stand for itself in a cache."""

    def __init__(self, project: Project, workshop: Workshop) -> None:
        self.project = project
        self.workshop = workshop

    def __hash__(self) -> int:
        return id(self.project)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _ByIdentity) and other.project is self.project


def _picture(workshop: Workshop, project: Project) -> bytes:
    return _painted(_ByIdentity(project, workshop))


@lru_cache(maxsize=64)
def _painted(wanted: _ByIdentity) -> bytes:
    scene = wanted.project.scenes[0]
    factor = min(1.0, PICTURE_WIDTH / max(scene.width, scene.height))
    width, height = max(1, round(scene.width * factor)), max(1, round(scene.height * factor))
    pixels, surface = blank(width, height)
    table = evaluate(scene, frame_times(scene, picture_frame(scene), 1))
    painter = painter_for(scene, wanted.workshop.materials)
    painter.paint(surface.getCanvas(), table, 0, scene.background, (factor, factor))
    surface.flushAndSubmit()
    out = BytesIO()
    Image.fromarray(unpremultiplied(pixels), "RGBA").save(out, "PNG")
    return out.getvalue()


def picture_frame(scene: Scene) -> int:
    """The frame that stands for a scene: two thirds in, when most has arrived."""
    return scene.frames * 2 // 3
