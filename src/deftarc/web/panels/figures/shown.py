"""What the figures tell of a layer that shows a scene: which, from where on, how fast, and what follows its end."""

from dataclasses import dataclass

from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.web.panels.figures.numbers import number
from deftarc.web.panels.figures.relations import told_lag


@dataclass(frozen=True)
class ShownScene:
    name: str
    begins: str
    rate: str
    goes_on: str
    plays: str
    clock: bool
    #: Whether its background shows; None where it has none.
    ground: bool | None
    #: The file it came of, where it did.
    file: str


def shown_told(project: Project, scene: Scene, layer: Layer, unit: str) -> ShownScene | None:
    """What is told of the scene that a layer shows; None where it shows none."""
    art = layer.artwork
    if not isinstance(art, SceneShown):
        return None
    inner = project.by_id.get(art.scene)
    return ShownScene(
        inner.name if inner is not None else "a scene that is gone", told_lag(art.begins, scene, unit),
        f"{number(100 * art.rate, 2)} %", art.goes_on, "" if art.plays is None else number(art.plays, 2),
        "clock" in layer.tracks, art.ground if inner is not None and inner.background is not None else None,
        inner.origin.file if inner is not None and inner.origin is not None else "",
    )  # fmt: skip
