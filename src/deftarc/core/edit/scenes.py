"""Edits of the project, its scenes, and what belongs to a scene as a whole."""

from collections.abc import Iterable
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.arrange.placed import spots_through
from deftarc.core.base import limits
from deftarc.core.base.arrays import Floats
from deftarc.core.base.errors import Refusal
from deftarc.core.base.matrices import from_six
from deftarc.core.base.model import Colour, Identity, Moment, Name
from deftarc.core.base.time import FLICKS, FrameRate
from deftarc.core.changes.keys import multiplied
from deftarc.core.changes.retime import markers_retimed, motion_retimed, shown_stretched
from deftarc.core.document import Guide, Layer, Project, Scene, UserFont, new_id
from deftarc.core.document.artwork import ArtworkBase
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.origin import Origin
from deftarc.core.edit.base import EditBase


class RenameProject(EditBase):
    past_locks: ClassVar[bool] = True
    kind: Literal["rename_project"] = "rename_project"
    name: Name

    def apply(self, project: Project) -> Project:
        return project.changed(name=self.name)

    def label(self, project: Project) -> str:
        return f"Rename the project to {self.name}"


class AddScene(EditBase):
    past_locks: ClassVar[bool] = True
    kind: Literal["add_scene"] = "add_scene"
    scene: Scene

    def apply(self, project: Project) -> Project:
        room_for_scene(project)
        if any(scene.id == self.scene.id for scene in project.scenes):
            raise Refusal("A scene with this id is there already.")
        return project.changed(scenes=(*project.scenes, self.scene))

    def artworks(self) -> Iterable[ArtworkBase]:
        return [layer.artwork for layer in self.scene.layers]

    def origins(self) -> Iterable[Origin]:
        return () if self.scene.origin is None else (self.scene.origin,)

    def label(self, project: Project) -> str:
        return f"Add the scene {self.scene.name}"


def room_for_scene(project: Project) -> None:
    if len(project.scenes) >= limits.MAX_SCENES:
        raise Refusal(f"A project holds at most {limits.MAX_SCENES} scenes.")


class DuplicateScene(EditBase):
    past_locks: ClassVar[bool] = True
    kind: Literal["duplicate_scene"] = "duplicate_scene"
    scene: Identity
    id: Identity = Field(default_factory=new_id)

    def apply(self, project: Project) -> Project:
        room_for_scene(project)
        if any(scene.id == self.id for scene in project.scenes):
            raise Refusal("A scene with this id is there already.")
        found = project.scene(self.scene)
        names = {scene.name for scene in project.scenes}
        stem = found.name[: limits.MAX_NAME - 12]
        name = next(n for k in range(1, 99) if (n := f"{stem} copy{'' if k == 1 else f' {k}'}") not in names)
        at = project.scenes.index(found) + 1
        copy = found.changed(id=self.id, name=name)
        return project.changed(scenes=(*project.scenes[:at], copy, *project.scenes[at:]))

    def label(self, project: Project) -> str:
        return f"Duplicate the scene {project.scene(self.scene).name}"


class RenameScene(EditBase):
    past_locks: ClassVar[bool] = True
    kind: Literal["rename_scene"] = "rename_scene"
    scene: Identity
    name: Name

    def apply(self, project: Project) -> Project:
        return project.with_scene(project.scene(self.scene).changed(name=self.name))

    def label(self, project: Project) -> str:
        return f"Rename the scene to {self.name}"


def shown_by(project: Project, scene: Scene) -> list[str]:
    """The names of the scenes that show a scene."""
    return [
        each.name for each in project.scenes
        if any(isinstance(x.artwork, SceneShown) and x.artwork.scene == scene.id for x in each.layers)
    ]  # fmt: skip


class DeleteScene(EditBase):
    past_locks: ClassVar[bool] = True
    kind: Literal["delete_scene"] = "delete_scene"
    scene: Identity = Field()

    def apply(self, project: Project) -> Project:
        gone = project.scene(self.scene)
        shows = shown_by(project, gone)
        if shows:
            raise Refusal(
                f"{gone.name} is shown in {', '.join(shows[:3])}{' …' if len(shows) > 3 else ''}. Delete the layers "
                f"that show it first, or replace what they show."
            )
        if len(project.scenes) == 1:
            raise Refusal("A project keeps at least one scene. Add another before deleting this one.")
        return project.changed(scenes=tuple(scene for scene in project.scenes if scene is not gone))

    def label(self, project: Project) -> str:
        return f"Delete the scene {project.scene(self.scene).name}"


class ChangeScene(EditBase):
    """A scene's size, rate, length, background, changed at any time; what is left out stays.

    ``fit`` says what a new size does to the layers: *keep* leaves them where they are from the top left, *centre*
    keeps them about the middle, *scale* scales them about it, as far as they fit. A new rate keeps every time in
    seconds, and so the length. A new length keeps keys and spans, or with ``stretch`` changes them in proportion.
    """

    past_locks: ClassVar[bool] = True
    kind: Literal["change_scene"] = "change_scene"
    scene: Identity
    name: Name | None = None
    width: Annotated[int, Field(ge=limits.MIN_SIDE, le=limits.MAX_SIDE)] | None = None
    height: Annotated[int, Field(ge=limits.MIN_SIDE, le=limits.MAX_SIDE)] | None = None
    fit: Literal["keep", "centre", "scale"] = "keep"
    rate: FrameRate | None = None
    frames: Annotated[int, Field(ge=1, le=limits.MAX_SCENE_FRAMES)] | None = None
    stretch: bool = False
    background: Colour | Literal["none"] | None = None
    grid: Annotated[float, Field(ge=2, le=4_000)] | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        if self.width is not None or self.height is not None:
            scene = self._resized(scene, self.width or scene.width, self.height or scene.height)
        if self.rate is not None and self.rate != scene.rate:
            frames = max(1, round(scene.length / self.rate.flicks))
            if frames > limits.MAX_SCENE_FRAMES:
                raise Refusal(f"At this rate the scene would have more than {limits.MAX_SCENE_FRAMES:,} frames.")
            scene = scene.changed(rate=self.rate, frames=frames)
        if self.frames is not None and self.frames != scene.frames:
            scene = self._lengthened(scene, self.frames)
        if self.name is not None:
            scene = scene.changed(name=self.name)
        if self.background is not None:
            scene = scene.changed(background=None if self.background == "none" else self.background)
        if self.grid is not None:
            scene = scene.changed(grid=self.grid)
        same = scene == project.scene(self.scene)
        return project if same else project.with_scene(scene)

    def _resized(self, scene: Scene, width: int, height: int) -> Scene:
        if (width, height) == (scene.width, scene.height):
            return scene
        factor = min(width / scene.width, height / scene.height) if self.fit == "scale" else 1.0
        dx, dy = width / 2 - factor * scene.width / 2, height / 2 - factor * scene.height / 2
        resized = scene.changed(width=width, height=height)
        if self.fit == "keep":
            return resized
        move = from_six([factor, 0, 0, factor, dx, dy])  # type: ignore[arg-type]
        guides = tuple(
            guide.changed(at=guide.at * factor + (dx if guide.axis == "x" else dy)) for guide in scene.guides
        )
        layers = tuple(
            layer if layer.parent is not None else _placed(layer, move, factor) for layer in scene.layers
        )  # fmt: skip
        return resized.changed(layers=layers, guides=guides)

    def _lengthened(self, scene: Scene, frames: int) -> Scene:
        longer = scene.changed(frames=frames)
        if not self.stretch:
            return longer
        share = longer.length / scene.length

        def to(time: int) -> int:
            return round(time * share)

        layers = tuple(
            motion_retimed(
                shown_stretched(layer, share).changed(
                    start=to(layer.start), end=None if layer.end is None else to(layer.end)
                ),
                to,
            )
            for layer in scene.layers
        )
        play = None if scene.play_range is None else (to(scene.play_range[0]), to(scene.play_range[1]))
        return longer.changed(layers=layers, play_range=play, markers=markers_retimed(scene.markers, to))

    def label(self, project: Project) -> str:
        scene = project.scene(self.scene)
        now = {
            "name": scene.name, "width": scene.width, "height": scene.height, "rate": scene.rate,
            "frames": scene.frames, "background": scene.background or "none", "grid": scene.grid,
        }  # fmt: skip
        words = {"width": "size", "height": "size", "rate": "frame rate", "frames": "length"}
        told = [
            words.get(name, name) for name, old in now.items() if getattr(self, name) not in (None, old)
        ]  # fmt: skip
        return f"Change the {', '.join(dict.fromkeys(told)) or 'settings'} of {scene.name}"


def _placed(layer: Layer, move: Floats, factor: float) -> Layer:
    """A layer that nothing carries, moved and scaled with the scene."""
    layer = spots_through(layer, move, FLICKS)
    if factor == 1.0:
        return layer
    names = ("scale_x", "scale_y") if layer.scale_link == "free" else ("scale",)
    if layer.scale_link == "area":
        layer = layer.changed(scale_ratio=max(-1e6, min(1e6, layer.scale_ratio * factor**2)))
    for name in names:
        layer = layer.with_track(name, multiplied(layer.number(name), factor))
    return layer


class SetPlayRange(EditBase):
    """The stretch that plays: from ``start`` up to but not at ``end``; neither is the whole scene."""

    kind: Literal["set_play_range"] = "set_play_range"
    scene: Identity
    start: Moment | None = None
    end: Moment | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        if self.start is None and self.end is None:
            return project.with_scene(scene.changed(play_range=None))
        start, end = scene.play_range or (0, scene.length)
        start = start if self.start is None else min(max(self.start, 0), scene.length - scene.rate.flicks)
        end = end if self.end is None else min(max(self.end, scene.rate.flicks), scene.length)
        if end <= start:
            # The end that was told wins, the other gives way.
            start, end = (start, scene.length) if self.end is None else (0, end)
        whole = (start, end) == (0, scene.length)
        return project.with_scene(scene.changed(play_range=None if whole else (start, end)))

    def label(self, project: Project) -> str:
        return "Set the play range"


class SetGuides(EditBase):
    """All guides of a scene as they are to be, or whether they are locked."""

    kind: Literal["set_guides"] = "set_guides"
    scene: Identity
    guides: Annotated[tuple[Guide, ...], Field(max_length=limits.MAX_GUIDES)] | None = None
    locked: bool | None = None

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        if self.guides is not None:
            if scene.guides_locked:
                raise Refusal("The guides are locked. Unlock them first.")
            scene = scene.changed(guides=self.guides)
        if self.locked is not None:
            scene = scene.changed(guides_locked=self.locked)
        return project.with_scene(scene)

    def label(self, project: Project) -> str:
        if self.locked is not None:
            return "Lock the guides" if self.locked else "Unlock the guides"
        return "Change the guides"


class AddFont(EditBase):
    kind: Literal["add_font"] = "add_font"
    font: UserFont

    def apply(self, project: Project) -> Project:
        if any(font.asset == self.font.asset for font in project.fonts):
            return project
        if len(project.fonts) >= limits.MAX_FONTS:
            raise Refusal(f"A project holds at most {limits.MAX_FONTS} fonts of its own.")
        return project.changed(fonts=(*project.fonts, self.font))

    def fonts(self) -> Iterable[UserFont]:
        return (self.font,)

    def label(self, project: Project) -> str:
        return f"Bring in the font {self.font.label}"
