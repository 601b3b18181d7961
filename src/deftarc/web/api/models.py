"""What the JSON API takes and gives."""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from deftarc.core import limits
from deftarc.core.document import PRESETS, Project, Scene
from deftarc.core.edit import Edit
from deftarc.core.errors import Refusal
from deftarc.core.keying import KeyRef
from deftarc.core.model import Colour, Name
from deftarc.core.time import RATES, parse_moment
from deftarc.store.projects import OpenProject

ProjectId = Annotated[str, Field(max_length=60)]


class Body(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class NewProject(Body):
    """A project with one scene. ``preset`` is wide, square, portrait, cinema, or free with width and height."""

    name: Name = "Untitled"
    preset: str = "wide"
    width: int | None = None
    height: int | None = None
    rate: str = "25"
    #: A frame count, a timecode or seconds: 125, 0:05:00, 5s.
    length: Annotated[str, Field(max_length=40)] = "5s"
    background: Colour | Literal["none"] = "#fffdf7"

    def project(self) -> Project:
        if self.preset == "free":
            if self.width is None or self.height is None:
                raise Refusal("A free size needs a width and a height.")
            width, height = self.width, self.height
        elif self.preset in PRESETS:
            _, width, height = PRESETS[self.preset]
        else:
            raise Refusal(f"There is no preset “{self.preset[:30]}”. There are: {', '.join(PRESETS)}, free.")
        if not all(limits.MIN_SIDE <= side <= limits.MAX_SIDE for side in (width, height)):
            raise Refusal(f"A scene is between {limits.MIN_SIDE} and {limits.MAX_SIDE:,} px wide and high.")
        rate = RATES.get(self.rate)
        if rate is None:
            raise Refusal(f"There is no frame rate “{self.rate[:20]}”. There are: {', '.join(RATES)}.")
        frames = parse_moment(self.length, rate)
        if not 1 <= frames <= limits.MAX_SCENE_FRAMES:
            raise Refusal(f"A scene is between 1 and {limits.MAX_SCENE_FRAMES:,} frames long.")
        background = None if self.background == "none" else self.background
        scene = Scene(name="Scene 1", width=width, height=height, rate=rate, frames=frames, background=background)
        return Project(name=self.name, scenes=(scene,))


class Rename(Body):
    name: Name


class Revision(Body):
    """The revision a request was made on; a stale one is refused with 409."""

    revision: Annotated[int, Field(ge=0, le=2**53)]


class MadeEdit(Revision):
    edit: Edit


class Created(Body):
    id: str


class State(Body):
    """A project after a change: its revision, what undo and redo would do, and how many steps there are."""

    id: str
    name: str
    revision: int
    undo: str | None
    redo: str | None
    steps: int
    #: Keys that a change renamed, to go on being selected.
    selects: list[KeyRef] | None = None

    @classmethod
    def of(cls, opened: OpenProject, selects: list[KeyRef] | None = None) -> "State":
        return cls(
            id=opened.id, name=opened.project.name, revision=opened.revision, undo=opened.undo, redo=opened.redo,
            steps=opened.cursor, selects=selects,
        )  # fmt: skip


class Summary(Body):
    id: str
    name: str
    created_at: float
    changed_at: float
    revision: int


class BroughtInLayer(State):
    layer: str
    notes: list[str] = []


class NewRender(Body):
    scene: Annotated[str, Field(max_length=60)]
    kind: Literal["mp4", "png"]
    frame: Annotated[int, Field(ge=0, le=limits.MAX_SCENE_FRAMES)] = 0


class RenderState(Body):
    id: str
    title: str
    state: str
    done: int
    total: int
    message: str


class Moment(Body):
    frame: int
    timecode: str


class Refused(BaseModel):
    """Every refusal: a sentence; after 409 also the newest revision and what changed."""

    detail: str
    revision: int | None = None
    changes: list[str] | None = None
