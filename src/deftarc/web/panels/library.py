"""The library of saved motions: a list for the drawer, and its pictures that move, of the layers that are selected."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from deftarc.app.library import Entry, Where, across, library
from deftarc.core.arrange.family import led_by
from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import FLICKS
from deftarc.core.changes.landing import Landing
from deftarc.core.document import Contour, FreePath, Layer, Project, Scene
from deftarc.core.document.motion import SavedMotion
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.document.track import PathTrack
from deftarc.core.edit import apply
from deftarc.core.edit.motions import LayMotion
from deftarc.formats.materials import Materials
from deftarc.formats.wire import pack
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer
from deftarc.web.panels.drawings import drawing_told
from deftarc.web.panels.moving import moving
from deftarc.web.panels.panel import Showing

#: Pictures asked for at once, frames each plays at most, and seconds of rest before and after.
MOST, MOST_FRAMES, REST = 24, 400, (0.25, 0.6)
#: Of so many layers pictures show how they move; the others do as these.
MOST_LAYERS = 12
PLACES = (("project", "In this project"), ("everywhere", "For all projects"), ("shipped", "Came with Deft Arc"))


@dataclass(frozen=True)
class Tile:
    where: Where
    name: str
    about: str
    #: What it moves, in words.
    moves: str


def _tile(entry: Entry) -> Tile:
    motion = entry.motion
    names = list(dict.fromkeys(PROPERTIES[lane.property].label.lower() for lane in motion.clip.lanes))
    parts = len(motion.clip.sources)
    moves = ", ".join(names) + (f" of {parts} layers" if parts > 1 else "")
    return Tile(entry.where, motion.name, motion.about, moves)


@DRAWERS.add
class MotionsLibrary(Drawer):
    id: ClassVar[str] = "motions"

    def title(self, showing: Showing) -> str:
        names = [layer.name for layer in showing.scene.layers if layer.id in showing.look.layers]
        if not names:
            return "Saved motions"
        return f"Saved motions, for {names[0] if len(names) == 1 else f'{len(names)} layers'}"

    def html(self, showing: Showing) -> str:
        words = showing.look.drawer_text.casefold().split()
        tiles = [_tile(each) for each in library(showing.opened.project, showing.shop.motions.all())]
        tiles = [
            tile for tile in tiles if all(word in f"{tile.name} {tile.about} {tile.moves}".casefold() for word in words)
        ]
        places = [(label, where, [tile for tile in tiles if tile.where == where]) for where, label in PLACES]
        chosen = bool(showing.look.layers)
        return fragment("parts/library.html", places=places, text=showing.look.drawer_text, chosen=chosen)


def pictures(
    project: Project, scene_id: str, layers: Sequence[str], time: int, entries: Sequence[Entry], materials: Materials
) -> bytes:
    """A packed answer: for each motion the edit that lays it on the layers, with them moving as they would then. One
    that cannot be laid says why. Without layers it is shown on a pennant of its own, and no edit is told.
    """
    if len(entries) > MOST:
        raise Refusal(f"At most {MOST} pictures play at once.")
    scene = project.scene(scene_id)
    told: list[dict[str, Any]] = []
    blobs: list[bytes] = []
    sizes = tuple(across(scene, scene.layer(each), time, materials) for each in layers)
    for entry in entries:
        motion = entry.motion
        head: dict[str, Any] = {"where": entry.where, "name": motion.name}
        try:
            if layers:
                edit = LayMotion(scene=scene_id, motion=motion, layers=tuple(layers), sizes=sizes, time=time)
                head["edit"] = edit.model_dump(mode="json", exclude_defaults=True)
                landings, missed = edit.landings(scene)
                head["missed"] = f"Not {'; '.join(missed[:2])}" if missed else ""
                picture, parts = _laid(project, scene, edit, landings, materials)
            else:
                picture, parts = _on_pennants(scene, motion, materials)
        except Refusal as refusal:
            told.append({**head, "refused": str(refusal)})
            continue
        told.append({**head, **picture})
        blobs.extend(parts)
    pennant = drawing_told(materials.drawing(PENNANT))
    answer = {"rate": scene.rate.per_second, "background": scene.background, "pennant": pennant, "candidates": told}
    return pack(answer, blobs)


def _laid(
    project: Project, scene: Scene, edit: LayMotion, landings: Sequence[Landing], materials: Materials
) -> tuple[dict[str, Any], list[bytes]]:
    made = apply(project, edit)
    some = {each.layer.id for each in landings}
    few = [layer.id for layer in scene.layers if layer.id in some][:MOST_LAYERS]
    return _moving(made, made.scene(scene.id), landings, set(led_by(scene, few)), materials)


def _moving(
    project: Project, scene: Scene, landings: Sequence[Landing], shown: set[str], materials: Materials
) -> tuple[dict[str, Any], list[bytes]]:
    """The stretch that a motion takes, played with a rest on both sides; what goes on for ever, twice."""
    low = min(each.track.keys[0].time for each in landings)
    high = max(each.track.keys[-1].time for each in landings)
    turns = [each.track.period or 0 for each in landings if each.track.after is not None]
    high = max([high, *(low + 2 * turn for turn in turns)])
    frame = scene.rate.flicks
    first = (low - round(REST[0] * FLICKS)) // frame
    count = min(-(-(high + round(REST[1] * FLICKS)) // frame) - first + 1, MOST_FRAMES)
    times = (np.arange(count) + first) * frame
    # What would go on past the scene's end is seen all the same.
    scene = scene.changed(frames=max(scene.frames, int(first + count)), play_range=None)
    picture, parts = moving(project, scene, shown, first, times, materials)
    return {**picture, "count": int(count), "loops": bool(turns)}, parts


#: What stands for a layer where none is selected: a pennant, as Quillhaven's ferries fly it.
PENNANT = FreePath(
    contours=(
        Contour(
            points=((-70, -44, 0, 0, 0, 0), (70, -44, 0, 0, 0, 0), (38, 0, 0, 0, 0, 0), (70, 44, 0, 0, 0, 0),
                    (-70, 44, 0, 0, 0, 0)),
            closed=True,
        ),
    ),
    fill="#b83a26",
)  # fmt: skip


def _on_pennants(scene: Scene, motion: SavedMotion, materials: Materials) -> tuple[dict[str, Any], list[bytes]]:
    """A motion on as many pennants as it moves layers, side by side. What they have not, does not show."""
    sources = motion.clip.sources
    places = [(180.0 * n, 0.0) for n in range(len(sources))]
    layers = tuple(
        Layer(id=f"pennant{n}", name=f"Pennant {n}", artwork=PENNANT, tracks={"position": PathTrack(value=place)})
        for n, place in enumerate(places)
    )
    stand = Scene(id="stand", name="Stand", rate=scene.rate, frames=1, layers=layers)
    names = tuple(layer.id for layer in layers)
    edit = LayMotion(scene="stand", motion=motion, layers=names, time=0)
    made = apply(Project(name="Stand", scenes=(stand,)), edit)
    return _moving(made, made.scene("stand"), edit.landings(stand)[0], set(names), materials)


__all__ = ["MOST", "MotionsLibrary", "pictures"]
