"""What the JSON API takes and gives."""

from dataclasses import asdict
from typing import Annotated, Literal

from fastapi import File, Form, UploadFile
from pydantic import BaseModel, ConfigDict, Field, SerializeAsAny, StringConstraints

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.base.model import Colour, Name
from deftarc.core.base.time import RATES, FrameRate, parse_moment
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import PRESETS, Project, Scene
from deftarc.core.edit import Edit, EditBase, Note
from deftarc.core.edit.scenes import ChangeScene
from deftarc.store.history import State as Stored
from deftarc.store.projects import OpenProject

EditId = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9-]{8,40}$")]
ProjectId = Annotated[str, Field(max_length=60)]
#: What comes with a file: it, the revision it is brought in on, and a name of its own for what is asked.
Sent = Annotated[UploadFile, File()]
SentOn = Annotated[int, Form(ge=0, le=2**53)]
SentAs = Annotated[EditId | None, Form()]


class Body(BaseModel):
    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class NewScene(Body):
    """A scene to be made. ``preset`` is wide, square, portrait, cinema, or free with width and height."""

    name: Name = "Scene 1"
    preset: str = "wide"
    width: int | None = None
    height: int | None = None
    rate: str = "25"
    #: A frame count, a timecode or seconds: 125, 0:05:00, 5s.
    length: Annotated[str, Field(max_length=40)] = "5s"
    background: Colour | Literal["none"] = "#fffdf7"

    def scene(self) -> Scene:
        width, height = size_of(self.preset, self.width, self.height)
        rate = rate_of(self.rate)
        background = None if self.background == "none" else self.background
        return Scene(
            name=self.name, width=width, height=height, rate=rate, frames=frames_of(self.length, rate),
            background=background,
        )  # fmt: skip


class NewProject(NewScene):
    """A project with one scene."""

    name: Name = "Untitled"

    def project(self) -> Project:
        return Project(name=self.name, scenes=(self.scene().changed(name="Scene 1"),))


def size_of(preset: str, width: int | None, height: int | None) -> tuple[int, int]:
    """Width and height in px of a preset, or of a free size; Refusal when there is none such."""
    if preset == "free":
        if width is None or height is None:
            raise Refusal("A free size needs a width and a height.")
    elif preset in PRESETS:
        _, width, height = PRESETS[preset]
    else:
        raise Refusal(f"There is no preset “{preset[:30]}”. There are: {', '.join(PRESETS)}, free.")
    if not all(limits.MIN_SIDE <= side <= limits.MAX_SIDE for side in (width, height)):
        raise Refusal(f"A scene is between {limits.MIN_SIDE} and {limits.MAX_SIDE:,} px wide and high.")
    return width, height


def rate_of(told: str) -> FrameRate:
    rate = RATES.get(told)
    if rate is None:
        raise Refusal(f"There is no frame rate “{told[:20]}”. There are: {', '.join(RATES)}.")
    return rate


def frames_of(told: str, rate: FrameRate) -> int:
    frames = parse_moment(told, rate)
    if not 1 <= frames <= limits.MAX_SCENE_FRAMES:
        raise Refusal(f"A scene is between 1 and {limits.MAX_SCENE_FRAMES:,} frames long.")
    return frames


class Revision(Body):
    """The revision a request was made on; a stale one is refused with 409."""

    revision: Annotated[int, Field(ge=0, le=2**53)]
    #: A name of its own for what is asked, so that it is done once however often it is sent.
    edit_id: EditId | None = None


class StepAsked(Revision):
    """An undo or a redo: also where the page is and what is selected there, to be told where it should go."""

    scene: Annotated[str, Field(max_length=60)] | None = None
    frame: Annotated[int, Field(ge=-(2**31), le=2**31)] = 0
    layers: tuple[str, ...] = Field(default=(), max_length=2_000)
    keys: tuple[KeyRef, ...] = Field(default=(), max_length=20_000)
    #: So many steps at once, or as many as there are.
    count: Annotated[int, Field(ge=1, le=10_000)] = 1


class GoAsked(StepAsked):
    """To a state of the history, told by the revision at which it was made."""

    state: Annotated[int, Field(ge=0, le=2**53)]


class StateName(Body):
    """A name for a state of the history; empty takes it away."""

    name: Annotated[str, Field(max_length=limits.MAX_NAME)]


class HistoryState(Body):
    """A state, told by the revision it was made at: the one it followed, what led to it, when in seconds, its number on
    the line that undo walks (None beside it), and its name.
    """

    revision: int
    parent: int
    label: str
    made_at: float
    number: int | None
    name: str


class History(Body):
    now: int
    states: list[HistoryState]

    @classmethod
    def of(cls, opened: OpenProject, states: "list[Stored]") -> "History":
        now = next(state.revision for state in states if state.number == opened.cursor)
        return cls(now=now, states=[HistoryState(**asdict(state)) for state in states])


class Went(Body):
    """Where an undo or a redo took place: the scene, the frame to go to if it does not show at the page's, what is
    selected then, and a sentence.
    """

    scene: str
    frame: int | None
    layers: list[str]
    keys: list[KeyRef]
    words: str


class SceneSettings(Revision):
    """A scene's settings as a whole; what did not change changes nothing."""

    name: Name
    preset: str = "free"
    width: int | None = None
    height: int | None = None
    fit: Literal["keep", "centre", "scale"] = "keep"
    rate: str
    length: Annotated[str, Field(max_length=40)]
    stretch: bool = False
    background: Colour | Literal["none"]
    grid: Annotated[float, Field(ge=2, le=4_000)] = 120.0

    def edit(self, scene: Scene) -> ChangeScene:
        width, height = size_of(self.preset, self.width, self.height)
        rate = rate_of(self.rate)
        frames = frames_of(self.length, rate)
        # Typed as it stood, the length means the same time at another rate.
        same = rate != scene.rate and frames_of(self.length, scene.rate) == scene.frames
        return ChangeScene(
            scene=scene.id, name=self.name, width=width, height=height, fit=self.fit, rate=rate,
            frames=None if same else frames, stretch=self.stretch, background=self.background, grid=self.grid,
        )  # fmt: skip


class Rename(Body):
    name: Name


class MadeEdit(Revision):
    edit: Edit


class Created(Body):
    id: str
    #: What of a file is not carried, in sentences.
    notes: tuple[str, ...] = ()


class ToldNote(Body):
    """A sentence, and where ``offer`` is not empty one edit that would mend what it says."""

    text: str
    offer: str = ""
    edit: SerializeAsAny[EditBase] | None = None

    @classmethod
    def of(cls, note: Note) -> "ToldNote":
        return cls.model_construct(text=note.text, offer=note.offer, edit=note.edit)


class Named(Body):
    id: str
    name: str


class DrawnIn(Body):
    """The layers of a scene that have artwork of their own."""

    scene: str
    name: str
    layers: list[Named]


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
    #: What should be known of the change.
    notes: list[ToldNote] = []
    #: After an undo or a redo, where it was.
    went: Went | None = None
    #: It had been done already, and was not done again.
    repeated: bool = False
    #: It came to nothing, and there is no step of it.
    unchanged: bool = False

    @classmethod
    def of(cls, opened: OpenProject) -> "State":
        return cls(
            id=opened.id, name=opened.project.name, revision=opened.revision, undo=opened.undo, redo=opened.redo,
            steps=opened.cursor, repeated=opened.repeated, unchanged=opened.unchanged,
        )  # fmt: skip

    @classmethod
    def after(cls, opened: OpenProject) -> "State":
        """The state after an edit was made."""
        told = [ToldNote.of(note) for note in opened.notes]
        return cls.of(opened).model_copy(update={"selects": opened.selects, "notes": told})


class Progress(Body):
    """How much of an edit is worked out, as a share of the whole."""

    share: float = 0.0


class Summary(Body):
    id: str
    name: str
    created_at: float
    changed_at: float
    revision: int


class BroughtAgain(State):
    #: In words, what was changed both here and in the file, and stays as it is here.
    kept: list[str] = []
    #: What of the file is not shown, in sentences.
    missing: list[str] = []


class BroughtInLayer(State):
    layer: str
    #: What of the file is not shown, in sentences.
    missing: list[str] = []


class MadeFont(State):
    font: str
    label: str


class NewRender(Body):
    scene: Annotated[str, Field(max_length=60)]
    #: The id of an output.
    kind: Annotated[str, Field(max_length=40)]
    frame: Annotated[int, Field(ge=0, le=limits.MAX_SCENE_FRAMES)] = 0
    #: What a movie shows where the background lets through.
    ground: Annotated[str, Field(pattern="^#[0-9a-fA-F]{6}$")] = "#ffffff"
    #: What else the output can be told, by name.
    options: dict[Annotated[str, Field(max_length=40)], str | int | float | bool] = Field(default={}, max_length=40)


class RenderState(Body):
    id: str
    title: str
    state: str
    done: int
    total: int
    message: str
    #: The state of the project that it shows.
    revision: int = 0
    #: Frames a second of late, and seconds that are left; None where they cannot be told.
    rate: float | None = None
    left: float | None = None


class Moment(Body):
    frame: int
    #: In flicks.
    time: int
    timecode: str


class Refused(BaseModel):
    """Every refusal: a sentence; after 409 also the newest revision and what changed."""

    detail: str
    revision: int | None = None
    changes: list[str] | None = None
