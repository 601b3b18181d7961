"""A panel of the page: it answers with what changed since it last did, and the page's scripts hand each part on.

A panel is one class a file, registered here. ``Looking`` makes one of each for a page and asks them in their order.
"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, ClassVar

from deftarc.app.workshop import Workshop
from deftarc.core.base.arrays import Floats, Integers
from deftarc.core.base.register import Register
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.evaluate import Evaluator
from deftarc.core.evaluate.seam import Seam
from deftarc.store.projects import OpenProject
from deftarc.web.look import Look
from deftarc.web.panels.axis import TimeAxis
from deftarc.web.panels.columns import Columns


@dataclass
class Showing:
    """What panels draw from: a look, the document as it is tried, and what was worked out for all of them."""

    look: Look
    shop: Workshop
    opened: OpenProject
    project: Project
    scene: Scene
    #: The selected layer the figures tell of.
    chosen: Layer | None
    frame: int
    axis: TimeAxis
    #: The layers whose lanes are folded away.
    folded: set[str]
    times: Integers
    evaluator: Evaluator
    columns: Columns
    #: What each property of the chosen layer shows at the frame.
    values: Callable[[], dict[str, tuple[float, ...]]]
    #: Layers as they are in the take that is laid over what shows, by id.
    ghosts: dict[str, Layer]
    #: The seam of what loops.
    seam: Callable[[], Seam]

    def by_frame(self, layer: Layer, name: str) -> Floats:
        """A property's values by frame, (F or 1, components)."""
        return self.evaluator.values(self.scene, layer.id, self.times)[name]


@dataclass
class Part:
    """What a panel has to tell: entries of the answer's head, fragments of HTML by the element they go into, and the
    names of columns the page has to have. What did not change need not be told.
    """

    head: dict[str, Any] = field(default_factory=dict)
    fragments: dict[str, str] = field(default_factory=dict)
    columns: list[str] = field(default_factory=list)


class Panel:
    """One page's view of something, with what it keeps of what was sent."""

    id: ClassVar[str]
    #: It is asked too where only the frame is another.
    light: ClassVar[bool] = False
    #: It is asked last, and left out where a hand moves on meanwhile.
    last: ClassVar[bool] = False
    #: Fragments that stand within others: drawn anew with these.
    within: ClassVar[dict[str, tuple[str, ...]]] = {}
    #: Fragments that a hand changes at each of its moves, and only in part: told by lines.
    by_lines: ClassVar[frozenset[str]] = frozenset()

    def forget(self) -> None:
        """Lets go of all it knows to be on the page."""

    def answer(self, showing: Showing) -> Part:
        raise NotImplementedError


PANELS: Register[type[Panel]] = Register("panels", lambda panel: panel.id)
