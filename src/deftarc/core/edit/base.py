"""What every edit is: a frozen model with a kind, a sentence for the history, and a pure ``apply``."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar, Literal, Self

from deftarc.core.base.model import Identity, Kinded
from deftarc.core.base.register import Register
from deftarc.core.changes.keys import KeyRef
from deftarc.core.document import Layer, Project, Scene, UserFont
from deftarc.core.document.artwork import ArtworkBase, Sources
from deftarc.core.document.origin import Origin
from deftarc.core.document.properties import PROPERTIES, Property, property_named
from deftarc.core.document.track import AnyTrack

#: A property of a layer, by their ids.
LaneName = tuple[str, str]
#: The names a position has, whichever way its axes are kept.
POSITION = ("position", "position_x", "position_y")
#: Of what an edit did to others so many are told one by one.
MOST_TOLD = 3


@dataclass(frozen=True)
class Note:
    """Something an edit did that a person should know, with one edit that would mend it."""

    text: str
    offer: str = ""
    edit: "EditBase | None" = None


@dataclass(frozen=True)
class Apart:
    """Keys that go in time, each lane's for itself: by lane {old time: new time}, those that are pushed among them; and
    when an edit's own come to stand, in their order.
    """

    moves: Mapping[LaneName, Mapping[int, int]]
    lands: Sequence[int]


class EditBase(Kinded):
    """What an edit says of itself besides what it does. One with a ``kind`` is registered by that."""

    #: It is about a scene or the project as a whole, or about the list, and goes past locks.
    past_locks: ClassVar[bool] = False
    #: It changes where layers stand in the list, which is a change of those layers where they are locked.
    reorders: ClassVar[bool] = False
    #: The paths it brings keep their joints, whatever the project's own are.
    brings_paths: ClassVar[bool] = False
    #: Its ``time`` is the playhead's: what has a clock is changed where that shows it then; see arrange/clocked.
    at_playhead: ClassVar[bool] = False
    #: What its keys are in another version may have no names: ties to them wait for when they come back.
    keeps_ties: ClassVar[bool] = False
    #: It takes reactions away itself, which need not be told.
    lets_go: ClassVar[bool] = False
    #: Some of it is told by artwork's sources; see ``measured``.
    measures: ClassVar[bool] = False
    #: What it comes to is looked at before it is kept.
    looked_at: ClassVar[bool] = False
    #: How a drag of it is drawn to what lies near; see app/snapping.
    snaps: ClassVar[Literal["", "box", "point", "keys", "spans", "edge", "told"]] = ""

    if TYPE_CHECKING:

        @property
        def kind(self) -> str: ...

    @classmethod
    def __pydantic_init_subclass__(cls, **_more: Any) -> None:
        field = cls.model_fields.get("kind")
        if field is not None and field.default is not None:
            EDITS.add(cls)

    def apply(self, project: Project) -> Project:
        """The project after this edit; shares what did not change. Raises Refusal and changes nothing."""
        raise NotImplementedError

    def label(self, project: Project) -> str:
        """What the history calls it, e.g. “Move Gull”."""
        raise NotImplementedError

    def measured(self, project: Project, sources: Sources) -> Self:
        """The edit with what only artwork's sources can tell of it, such as where on a text's letters a hand is; asked
        of those that ``measures``.
        """
        return self

    def selects(self, before: Project, project: Project) -> list[KeyRef] | None:
        """The keys of ``project`` selected once it is made of ``before``; None leaves the selection alone."""
        return None

    def moves_apart(self, scene: Scene) -> Apart | None:
        """Where keys go in time, if it does to each lane of its keys what it would do to that one alone; else None. A
        hand that holds thousands of them is shown those in view first.
        """
        return None

    def notes(self, before: Project, after: Project) -> Sequence[Note]:
        """What is to be told once it is done."""
        return ()

    def artworks(self) -> Iterable[ArtworkBase]:
        """The artworks it brings in: their files have to be here, and they have to be drawable."""
        return ()

    def origins(self) -> Iterable[Origin]:
        """What it brings in says of the files that it came of: what was kept of them has to be here."""
        return ()

    def fonts(self) -> Iterable[UserFont]:
        """The fonts it brings into the project."""
        return ()

    def faces(self) -> Iterable[str]:
        """The ids of faces that it sets texts in."""
        return ()

    def keyed(self) -> Iterable[LaneName]:
        """The lanes it keys because *Keying changes* is on; none where it is not."""
        return ()


EDITS: Register[type[EditBase]] = Register("edits", lambda edit: edit.model_fields["kind"].default)


class LaneEdit(EditBase):
    """An edit of one property of one layer."""

    scene: Identity
    layer: Identity
    property: str

    def apply(self, project: Project) -> Project:
        scene = project.scene(self.scene)
        layer = scene.layer(self.layer)
        facts = property_named(self.property)
        track = self.on_track(scene, layer, facts, layer.track(facts.id))
        return project.with_scene(scene.with_layer(layer.with_track(facts.id, track)))

    def on_track(self, scene: Scene, layer: Layer, facts: Property, track: AnyTrack) -> AnyTrack:
        """The property's track after this edit."""
        raise NotImplementedError

    def of_what(self, project: Project) -> str:
        """“Rotation of Gull”."""
        return f"{PROPERTIES[self.property].label} of {project.scene(self.scene).layer(self.layer).name}"


def quoted(names: list[str]) -> str:
    """Names for a label: one by name, more by number."""
    return names[0] if len(names) == 1 else f"{len(names)} layers"
