"""Makes the demo's scenes by the edits a person would make."""

from importlib.resources import files
from typing import Literal

from deftarc.core.changes.clip import copied
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Artwork, Project, Scene
from deftarc.core.document.craft import Settle
from deftarc.core.document.properties import PROPERTIES
from deftarc.core.edit import EditBase, apply
from deftarc.core.edit.add import AddLayer
from deftarc.core.edit.beyond import SetBeyond
from deftarc.core.edit.eases import EaseKeys, MakeCraft
from deftarc.core.edit.keys import Lane, SetKeys
from deftarc.core.edit.outlines import DragPoints
from deftarc.core.edit.paste import PasteHow, PasteKeys
from deftarc.core.edit.values import SetValue
from deftarc.formats.read import Asset, bring_in

INK, CREAM, BRICK, SEA, OCHRE = "#14324a", "#fffaf0", "#b23a26", "#1f5c6b", "#e2a21b"


class Builder:
    """Makes edits on a project and remembers the assets they need."""

    def __init__(self, project: Project) -> None:
        self.project = project
        self.assets: list[Asset] = []
        self.edits: list[EditBase] = []
        self.scene = project.scenes[0]

    def do(self, edit: EditBase) -> None:
        self.project = apply(self.project, edit)
        self.edits.append(edit)

    def enter(self, scene: Scene) -> None:
        self.scene = scene

    def time(self, frame: float) -> int:
        return round(frame * self.scene.rate.flicks)

    def shape(self, layer: str, name: str, artwork: Artwork, at: tuple[float, float]) -> None:
        self.do(AddLayer(scene=self.scene.id, id=layer, name=name, artwork=artwork, at=at))

    def art(self, layer: str, name: str, file: str, at: tuple[float, float]) -> None:
        data = (files("deftarc") / "demo" / "art" / file).read_bytes()
        self.brought(layer, name, data, file, at)

    def brought(self, layer: str, name: str, data: bytes, file: str, at: tuple[float, float]) -> None:
        made = bring_in(data, file)
        self.assets.extend(made.assets)
        self.do(AddLayer(scene=self.scene.id, id=layer, name=name, artwork=made.artwork, at=at))

    def key(self, layer: str, name: str, values: dict[float, float | tuple[float, float]]) -> None:
        """Keys of one property, shown units, by frame."""
        for frame, value in values.items():
            numbers = value if isinstance(value, tuple) else (value,)
            for component, number in enumerate(numbers):
                number = number / PROPERTIES[name].factor
                self.do(
                    SetValue(
                        scene=self.scene.id, layer=layer, property=name, component=1 if component else 0,
                        value=number, time=self.time(frame), keying=True,
                    )
                )  # fmt: skip

    def colours(self, layer: str, name: str, values: dict[float, str]) -> None:
        """Keys of a colour, by frame."""
        for frame, colour in values.items():
            self.do(
                SetValue(
                    scene=self.scene.id, layer=layer, property=name, component=0, colour=colour,
                    time=self.time(frame), keying=True,
                )
            )  # fmt: skip

    def waves(self, layer: str, heights: dict[float, float], points: tuple[int, ...]) -> None:
        """Keys of an outline, by frame, with some of its points up or down by some px."""
        for frame in heights:
            self.do(SetKeys(scene=self.scene.id, layers=(layer,), properties=("outline",), time=self.time(frame)))
        for frame, by in heights.items():
            if by:
                self.do(
                    DragPoints(
                        scene=self.scene.id, layer=layer, points=points, dx=0, dy=by, time=self.time(frame), keying=True
                    )
                )

    def go_on(self, layer: str, name: str, how: Literal["repeat", "alternate"]) -> None:
        """Lets a lane go on for ever, before its keys and after them."""
        self.do(SetBeyond(scene=self.scene.id, lanes=(Lane(layer=layer, property=name),), side="both", how=how))

    def leave_as_it_came(self, layer: str, frame: float) -> None:
        """All keys of a layer again at a frame, played backwards."""
        here = self.project.scene(self.scene.id)
        found = here.layer(layer)
        keys = tuple(
            KeyRef(layer=layer, property=name, time=time)
            for name in found.keyed
            for time in found.track(name).key_times
        )
        how = PasteHow(reversed=True)
        self.do(PasteKeys(scene=here.id, clip=copied(here, keys), layers=(layer,), time=self.time(frame), how=how))

    def ease(self, layer: str, name: str, frames: list[float], ease: str, strength: float = 50) -> None:
        keys = tuple(KeyRef(layer=layer, property=name, time=self.time(frame)) for frame in frames)
        self.do(EaseKeys(scene=self.scene.id, keys=keys, ease=ease, strength=strength))

    def settle(self, layer: str, name: str, frames: list[float], far: float, often: int) -> None:
        keys = tuple(KeyRef(layer=layer, property=name, time=self.time(frame)) for frame in frames)
        self.do(MakeCraft(scene=self.scene.id, keys=keys, craft=Settle(far=far, often=often)))
