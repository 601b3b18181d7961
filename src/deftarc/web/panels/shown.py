"""The scenes of the project that can be shown in this one, as a list for the drawer."""

from dataclasses import dataclass
from typing import ClassVar, Literal

from deftarc.core.base.errors import Refusal
from deftarc.core.base.time import told_frame
from deftarc.core.document import Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.project import check_shown
from deftarc.core.edit.add import AddLayer
from deftarc.core.evaluate import Evaluator
from deftarc.core.evaluate.seam import SeamCheck
from deftarc.web.context import fragment
from deftarc.web.panels.drawer import DRAWERS, Drawer
from deftarc.web.panels.panel import Showing


@dataclass(frozen=True)
class Row:
    """A scene: how large and long it is, the edits that show it here, and why it cannot be."""

    id: str
    name: str
    about: str
    whole: str
    here: str
    refused: str


def _row(project: Project, scene: Scene, inner: Scene, time: int, loops: bool) -> Row:
    goes_on: Literal["repeat", "hold"] = "repeat" if loops else "hold"
    art = SceneShown(scene=inner.id, width=inner.width, height=inner.height, goes_on=goes_on, ground=False)
    edit = AddLayer(scene=scene.id, name=inner.name, artwork=art)
    refused = ""
    try:
        check_shown(edit.apply(project).scenes)
    except Refusal as refusal:
        refused = str(refusal)
    length = min(inner.length, max(scene.length - time, scene.rate.flicks))
    here = edit.changed(place="on_top", time=time, length=length)
    about = f"{inner.width} × {inner.height}, {told_frame(inner.frames, inner.rate, 'timecode')}"
    about += ", a loop" if loops else ""
    # Each press makes a layer of its own: its id is the server's to choose.
    told = [each.model_dump_json(exclude_defaults=True, exclude={"id"}) for each in (edit, here)]
    return Row(inner.id, inner.name, about, told[0], told[1], refused)


@DRAWERS.add
class ScenesDrawer(Drawer):
    id: ClassVar[str] = "scenes"

    def __init__(self) -> None:
        #: By scene, what looks at whether its end meets its start.
        self.checks: dict[str, SeamCheck] = {}

    def _loops(self, showing: Showing, scene: Scene) -> bool:
        """Whether a scene moves, and its end is its start: then it goes on for ever where it is shown."""
        check = self.checks.setdefault(scene.id, SeamCheck(Evaluator(showing.shop.materials.shaper.form)))
        check.evaluator.scenes = showing.opened.project.by_id
        # All of it is shown, whatever its play range.
        return check.seam(scene, 0, scene.length).state == "perfect"

    def title(self, showing: Showing) -> str:
        return f"Show a scene in {showing.scene.name}"

    def html(self, showing: Showing) -> str:
        project = showing.opened.project
        here = project.by_id.get(showing.scene.id, showing.scene)
        time = here.rate.time_of(showing.frame)
        rows = [
            _row(project, here, each, time, self._loops(showing, each)) for each in project.scenes if each.id != here.id
        ]
        return fragment("parts/scenes.html", rows=rows)
