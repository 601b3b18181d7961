"""The application object: the stores, the materials, and who listens to which project."""

import asyncio
import ctypes
import gc
import json
import logging
import shutil
import sys
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from dataclasses import dataclass, field
from functools import lru_cache
from io import BytesIO
from pathlib import Path
from threading import RLock
from typing import Any

from PIL import Image

from deftarc.app.logins import Logins
from deftarc.app.queue.farm import FarmAt
from deftarc.app.queue.queue import Queue
from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.working import Stopped, Work, listening
from deftarc.core.document import Layer, Project, Scene, assets_of
from deftarc.core.document.artwork import Artwork, Carrier
from deftarc.core.document.track import NumberTrack, PathTrack
from deftarc.core.edit import EditBase, measured
from deftarc.core.evaluate import Scenes
from deftarc.formats.archive import ProjectFile, assets_named, write_as_it_lies, write_document, write_project
from deftarc.formats.asset_kinds import MEDIA_OF, refuse_wrong, wanted_by
from deftarc.formats.materials import Materials
from deftarc.formats.read import Asset
from deftarc.paint.output import Job, Output, chosen, output_named
from deftarc.paint.skia.painter import blank, unpremultiplied
from deftarc.paint.skia.scene import painter_for
from deftarc.store.assets import AssetStore
from deftarc.store.choices import ChoiceStore
from deftarc.store.database import Sessions, check_database, open_database
from deftarc.store.eases import EaseStore
from deftarc.store.jobs import JobStore, NewJob
from deftarc.store.logins import LoginStore
from deftarc.store.motions import MotionStore
from deftarc.store.parts import Written
from deftarc.store.projects import OpenProject, ProjectStore
from deftarc.store.reading_parts import as_it_lies
from deftarc.store.room import Room
from deftarc.store.settings import SettingStore
from deftarc.store.standing import reader_of
from deftarc.store.trouble import StoreTrouble

log = logging.getLogger(__name__)
#: The longer side of a project's picture on the start page, px.
PICTURE_WIDTH = 360
#: The side of a picture of what is kept on the shelf, px.
SHELF_SIDE = 96
#: Seconds after which what no page shows, and no program asks for, is let go of.
QUIET = 20.0


@dataclass
class Workshop:
    """Everything a running server has. One a data folder."""

    folder: Path
    sessions: Sessions
    projects: ProjectStore
    assets: AssetStore
    jobs: JobStore
    choices: ChoiceStore
    eases: EaseStore
    motions: MotionStore
    settings: SettingStore
    renders: Queue
    room: Room
    materials: Materials
    logins: Logins
    #: Of which each page's own token is made.
    page_secret: bytes
    #: Called with (project id, revision) after every change; see live.py.
    listeners: dict[str, set[Callable[[int], None]]] = field(default_factory=dict)
    loop: asyncio.AbstractEventLoop | None = None
    #: Edits that are being worked out, by their ids.
    works: dict[str, Work] = field(default_factory=dict)
    #: Held while something brought in is stored, and not yet named by any state.
    receiving: RLock = field(default_factory=RLock)

    @classmethod
    def at(cls, folder: Path, farm: FarmAt | None = None) -> "Workshop":
        """The workshop of a folder. StoreTrouble or Refusal where the folder or its database cannot be used."""
        sessions = open_database(folder)
        projects, assets = ProjectStore(sessions), AssetStore(sessions)
        jobs, settings = JobStore(sessions), SettingStore(sessions)
        renders = Queue(folder / "renders", jobs, settings.told, farm)
        room = Room(sessions, projects, assets, jobs, renders.folder)
        logins = LoginStore(sessions)
        shop = cls(
            folder, sessions, projects, assets, jobs, ChoiceStore(sessions), EaseStore(sessions),
            MotionStore(sessions), settings, renders,
            room, Materials(assets.read), Logins(logins), logins.page_secret(),
        )  # fmt: skip
        renders.again = shop.render_again
        return shop

    @property
    def incoming(self) -> Path:
        """Where uploads lie while they are read."""
        return self.folder / "incoming"

    def begin(self) -> None:
        """What a server does first with a folder it has to itself: the database is read over, what a kill left behind
        is swept away, and what was deleted long ago goes.
        """
        if check_database(self.sessions):
            log.error("%s is damaged: %s", self.sessions.file, self.sessions.damage)
            return
        self.renders.begin()
        shutil.rmtree(self.incoming, ignore_errors=True)
        with suppress(StoreTrouble):
            self.room.purge()

    def commit(self, project_id: str, revision: int, edit: EditBase, edit_id: str | None = None) -> OpenProject:
        """Checks that an edit's artwork can be drawn, commits it and tells whoever looks at the project."""
        self._check_artwork(edit)
        with suppress(Refusal):
            # What cannot be measured is refused where it is made, of the newest state.
            edit = measured(self.projects.open(project_id).project, edit, self.materials)
        return self.announce(self.projects.commit(project_id, revision, edit, edit_id))

    def announce(self, opened: OpenProject) -> OpenProject:
        for listener in list(self.listeners.get(opened.id, ())):
            if self.loop is not None:
                self.loop.call_soon_threadsafe(listener, opened.revision)
        return opened

    def _check_artwork(self, edit: EditBase) -> None:
        """What an edit brings in has to be here, and to be drawable."""
        for font in edit.fonts():
            refuse_wrong([(font.asset, MEDIA_OF["font"])], self.assets.media([font.asset]))
        for origin in edit.origins():
            media = self.assets.media([origin.asset])
            if not media:
                raise Refusal("What this scene came of is not here. Bring its file in again.")
            refuse_wrong([(origin.asset, MEDIA_OF["scenes"])], media)
        for face in edit.faces():
            self.materials.shaper.font(face)
        for artwork in edit.artworks():
            wanted = list(wanted_by(artwork))
            media = self.assets.media(name for name, _ in wanted)
            if len(media) < len({name for name, _ in wanted}):
                raise Refusal("This layer shows a file that is not here. Bring the file in again.")
            refuse_wrong(wanted, media)
            self.materials.drawing(artwork)

    @contextmanager
    def working(self, edit_id: str | None) -> Iterator[None]:
        """While an edit is worked out: how far it is can be asked by its id, and it can be stopped, which is a Refusal
        that changes nothing.
        """
        if edit_id is None:
            yield
            return
        work = self.works[edit_id] = Work()
        try:
            with listening(work):
                yield
        except Stopped as stopped:
            raise Refusal(str(stopped)) from None
        finally:
            self.works.pop(edit_id, None)

    def bring_in(
        self, project_id: str, revision: int, assets: Sequence[Asset], edit: EditBase, edit_id: str | None
    ) -> OpenProject:
        """Keeps assets that were read, and commits the edit that names them."""
        with self.receiving:
            self._refuse_too_much(project_id, assets)
            self.assets.put(assets)
            return self.commit(project_id, revision, edit, edit_id)

    def _refuse_too_much(self, project_id: str, assets: Sequence[Asset]) -> None:
        """What a project names has to fit into one project file."""
        here = assets_of(self.projects.open(project_id).project)
        more = sum(len(asset.data) for asset in assets if asset.hash not in here)
        if self.assets.size(here) + more > limits.MAX_PROJECT_ASSETS:
            raise Refusal(
                f"All pictures and fonts of a project together may take {limits.MAX_PROJECT_ASSETS // 2**20} MiB, and "
                f"with this one they would take more. Make it smaller, or go on in a second project."
            )

    def shelf_picture(self, artwork: Artwork) -> bytes:
        """A small PNG of an artwork by itself."""
        left, top, right, bottom = self.materials.drawn(artwork).bounds()
        side = max(right - left, bottom - top, 1.0) * 1.1
        layer = Layer(
            id="kept", name="Kept", artwork=artwork,
            tracks={"position": PathTrack(value=(-(left + right) / 2, -(top + bottom) / 2))},
        )  # fmt: skip
        factor = SHELF_SIDE / side
        carrier = Layer(id="middle", name="Middle", artwork=Carrier(), tracks={
            "position": PathTrack(value=(SHELF_SIDE / 2, SHELF_SIDE / 2)), "scale": NumberTrack(value=factor)
        })  # fmt: skip
        layers = (layer.changed(parent="middle"), carrier)
        return _png(
            Scene(name="Shelf", width=SHELF_SIDE, height=SHELF_SIDE, frames=1, background=None, layers=layers),
            self.materials, 0, 1.0,
        )  # fmt: skip

    def export(self, project_id: str) -> bytes:
        """A project's file, put together of what is stored of it where that can be."""
        return self._file_of(self.projects.written(project_id), lambda: self.projects.open(project_id).project)

    def document(self, project_id: str) -> list[bytes]:
        """A project's document as JSON, in pieces."""
        pieces = self.projects.written(project_id)
        if pieces is not None:
            return pieces
        return [self.projects.open(project_id).project.model_dump_json(exclude_defaults=True).encode()]

    def _file_of(self, pieces: list[bytes] | None, project: Callable[[], Project]) -> bytes:
        if pieces is not None:
            with suppress(Refusal):
                found = {name: self.assets.get(name) for name in assets_named(pieces)}
                return write_document(pieces, {name: (asset.media, asset.data) for name, asset in found.items()})
        return export_file(project(), self.assets)

    def take_read(self, name: str, written: Written, media: dict[str, str], folder: Path) -> str:
        """A project file that was read, its assets lying in a folder, as a new project; returns its id."""
        with self.receiving:
            self.assets.put(Asset((folder / each).read_bytes(), kind) for each, kind in media.items())
            return self.projects.take(name, written)

    def take(self, file: ProjectFile) -> str:
        self.assets.put(file.assets.values())
        return self.projects.create(file.project)

    def render(self, project_id: str, scene_id: str, kind: str, told: dict[str, Any]) -> str:
        """Queues an output of the project as it is now; returns the job's id."""
        opened = self.projects.open(project_id)
        scene = opened.project.scene(scene_id)
        output, options = self.wanted(scene, kind, told)
        new = NewJob(
            project_id, f"{opened.project.name} {output.title(scene, options)}", scene.id, output.id,
            options.model_dump(mode="json"), opened.revision, output.suffix,
        )  # fmt: skip
        work = self._file_of(self.projects.written(project_id, opened.root), lambda: opened.project)
        job = self.renders.start(new, work, output.parts(scene, options))
        # Which frame it was says nothing about the next one.
        kept = {name: value for name, value in new.options.items() if name != "frame"}
        with suppress(StoreTrouble):
            self.choices.keep(project_id, output.id, kept)
        return job

    def wanted(self, scene: Scene, kind: str, told: dict[str, Any]) -> tuple[Output[Any], Any]:
        """An output with options, of what was told by name; Refusal where a scene cannot leave like that."""
        output = output_named(kind)
        if not output.suffix:
            raise Refusal(f"{output.label} goes into a folder: use the command line, “deftarc render”.")
        options = chosen(output, told)
        output.check(scene, options)
        return output, options

    def deliverable(self, project_id: str, scene_id: str) -> Job:
        """A scene as it would leave now."""
        project = self.projects.open(project_id).project
        scene, by_id = project.scene(scene_id), project.by_id
        return Job(scene, self.materials, by_id, project, lambda state: export_file(state, self.assets))

    def render_again(self, job_id: str) -> str:
        """Queues what a render was made of, as it is by now, with the same options; returns the new job's id."""
        row = self.jobs.get(job_id)
        if not row.output:
            raise Refusal("What this render was made of is not known any more. Choose it anew.")
        return self.render(row.project, row.scene, row.output, json.loads(row.options))

    def delete(self, project_id: str) -> None:
        """Takes a project off the list; its renders end with it."""
        self.projects.delete(project_id)
        self.renders.stop_project(project_id)

    def remove(self, project_id: str) -> None:
        """Removes a deleted project for good, with its renders and all that only it named."""
        with self.receiving:
            self.room.remove(project_id)

    def sweep(self) -> int:
        """Removes what no state of any project names; returns how many bytes came back."""
        with self.receiving:
            return self.room.sweep()

    def as_it_lies(self, project_id: str) -> tuple[str, bytes]:
        """The name of a project and the file of it as it is stored, read whole or not; see ``as_it_lies``."""
        name, root = self.projects.root_of(project_id)
        with self.sessions() as session:
            document, lost = as_it_lies(root, reader_of(session))
        return name, write_as_it_lies(document, lost, self.assets.get)

    def rest(self, after: float = QUIET) -> bool:
        """Lets go of all that is kept to be quick while nobody has anything open, or has asked for it in so many
        seconds; whether it did. The one owner of what is kept: each cache has its own bound, and all of them end here.
        """
        if any(self.listeners.values()) or self.works or not self.projects.unused(after):
            return False
        self.projects.forget_open()
        self.materials.forget()
        self.assets.forget_read()
        for kept in caches():
            kept.cache_clear()
        gc.unfreeze()
        gc.collect()
        gc.freeze()
        give_back()
        return True

    def picture(self, project_id: str) -> bytes:
        """A small PNG of the first scene a third of the way in, for the start page."""
        return _picture(self, self.projects.open(project_id).project)


#: What a function is that keeps its answers.
KEPT: Any = type(lru_cache(maxsize=1)(len))


def caches() -> Iterator[Any]:
    """What functions of all rooms keep of their answers, each within a bound of its own; a single thing that is made
    once is none of these.
    """
    for name, module in list(sys.modules.items()):
        if name.startswith("deftarc."):
            for each in list(vars(module).values()):
                if isinstance(each, KEPT) and (each.cache_parameters()["maxsize"] or 0) > 1:
                    yield each


def give_back() -> None:
    """What Python has freed, to the system: where its allocator can be told so."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).malloc_trim(0)


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
    return _png(scene, wanted.workshop.materials, picture_frame(scene), factor, wanted.project.by_id)


def _png(scene: Scene, materials: Materials, frame: int, factor: float, scenes: Scenes | None = None) -> bytes:
    """A frame as it is delivered, scaled, as PNG."""
    width, height = max(1, round(scene.width * factor)), max(1, round(scene.height * factor))
    pixels, surface = blank(width, height)
    painter = painter_for(scene, materials, scenes)
    table = painter.frames(scene, frame, 1)
    painter.paint(surface.getCanvas(), table, 0, scene.background, (factor, factor))
    surface.flushAndSubmit()
    out = BytesIO()
    Image.fromarray(unpremultiplied(pixels), "RGBA").save(out, "PNG")
    return out.getvalue()


def picture_frame(scene: Scene) -> int:
    """The frame that stands for a scene: two thirds in, when most has arrived."""
    return scene.frames * 2 // 3
