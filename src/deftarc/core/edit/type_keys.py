"""A lane's keys typed as one line, all of them at once."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.base.errors import Refusal
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.properties import Property
from deftarc.core.document.track import AnyTrack
from deftarc.core.edit.base import LaneEdit
from deftarc.core.words import read_keys
from deftarc.core.words.read import MOST_LETTERS


class TypeKeys(LaneEdit):
    """All keys of a lane as a line of words tells them; what motion it had is replaced. Misread where it is none."""

    brings_paths: ClassVar[bool] = True
    looked_at: ClassVar[bool] = True
    kind: Literal["type_keys"] = "type_keys"
    text: Annotated[str, Field(max_length=MOST_LETTERS)]

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        if facts.id not in layer.properties:
            raise Refusal(f"{layer.name} has no {facts.label}.")
        made = read_keys(self.text, track, facts, scene.rate)
        # A key at the time of one that is tied is that one.
        called = {key.time: key.id for key in track.keys if key.id is not None}
        if called:
            made = made.changed(keys=tuple(
                key.changed(id=called[key.time]) if key.time in called else key for key in made.keys
            ))  # fmt: skip
        # What settles and bounces were made from goes with keys that are not as these left them.
        return made if made.keys != track.keys else made.changed(crafts=track.crafts)

    def label(self, project: Project) -> str:
        return f"Type the keys of {self.of_what(project)}"

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        return []
