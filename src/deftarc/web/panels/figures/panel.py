"""The figures of one page: the chosen layer's numbers, and apart from them its selected key and that key's segment."""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any, ClassVar

from markupsafe import Markup

from deftarc.core.arrange.axes import position_in
from deftarc.core.arrange.clocked import at_work
from deftarc.core.curves.knots import OwnEase
from deftarc.core.document import Layer, Project, Scene
from deftarc.core.document.artwork.bursts import PLACES
from deftarc.core.document.artwork.scene import GOES_ON
from deftarc.core.document.blend import BLENDS
from deftarc.core.document.eases import EASES
from deftarc.core.document.effects import EFFECTS
from deftarc.core.document.masks import MODES
from deftarc.core.edit.eases import segments_of
from deftarc.core.evaluate import has_loose
from deftarc.fonts.faces import FACES
from deftarc.web.context import fragment
from deftarc.web.look import Look
from deftarc.web.panels.figures.looks import LookFigures, look_figures
from deftarc.web.panels.figures.numbers import Row, rows_of, span_figures
from deftarc.web.panels.figures.relations import related_to, relations_of
from deftarc.web.panels.figures.segment import EaseChoice, KeyFigures, SegmentFigures, key_figures, segment_figures
from deftarc.web.panels.figures.shown import shown_told
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

#: The eases that rings can spread by.
RING_EASES = tuple((ease.id, ease.label) for ease in EASES.values() if not ease.stepped)


@lru_cache(maxsize=256)
def _tiles(choices: tuple[EaseChoice, ...]) -> Markup:
    """The eases as buttons: the same for most segments, and so drawn once."""
    return Markup(fragment("parts/ease_tiles.html", choices=choices))


@dataclass
class Figuring:
    """``shape`` is all that the numbers' panel was last drawn from, but the numbers: the page fills those in itself
    from its columns, so that while something is dragged the panel mostly stays.
    """

    shape: tuple[Any, ...] | None = None

    def forget(self) -> None:
        self.shape = None

    def drawn_for(
        self,
        look: Look,
        project: Project,
        scene: Scene,
        chosen: Layer | None,
        frame: int,
        values: dict[str, tuple[float, ...]],
        everywhere: list[OwnEase],
    ) -> dict[str, str]:
        """The fragments that are to be drawn again. ``values`` are what each property shows at the frame."""
        time = scene.rate.time_of(frame)
        rows: list[Row] = []
        looks: LookFigures | None = None
        loose = False
        # Carriers alone have nothing that could look otherwise.
        has_look = chosen is not None and (chosen.group or not chosen.artwork.empty)
        if not has_look and look.page == "look":
            # What has no look has its motion: numbers of what is selected never hide.
            look = look.changed(page="motion")
        relations = relations_of(scene, chosen, look.unit) if chosen is not None and look.page == "relations" else None
        if chosen is not None:
            if look.axes != "parent":
                values = {**values, **_told_in(look, scene, chosen, values, time)}
            # Whether a key stands here is a matter of where the clocks show it.
            then = at_work(scene, time, clocked=True).layer(chosen.id)
            rows = rows_of(then, time, values, look.page, scene.half)
            if look.page == "look" and has_look:
                looks = look_figures(scene, then, time, values)
            loose = has_loose(then, time)
        shown = shown_told(project, scene, chosen, look.unit) if chosen is not None else None
        key, segment = self._key(look, project, scene, chosen, everywhere)
        tiles = _tiles(segment.choices) if segment is not None else ""
        out = {
            "figures-key": fragment("parts/figures_key.html", key=key, keys=len(look.keys)),
            "figures-segment": fragment(
                "parts/figures_segment.html", layer=chosen, key=key, segment=segment, rows=rows, tiles=tiles
            ),
        }
        span = span_figures(scene, chosen, look.unit) if chosen is not None else None
        taken = chosen and sum(1 for s in project.scenes for x in s.layers if x.link and x.link == chosen.link)
        shape = (
            chosen and (chosen.id, chosen.name, chosen.artwork, chosen.parent, chosen.scale_link, chosen.link),
            _shape(rows), looks and looks.shape(_shape), span, look.page, look.axes, len(look.layers), look.points,
            look.mask, look.folds, relations, shown, taken,
        )  # fmt: skip
        if (look.edit is not None or look.light) and shape == self.shape and chosen is not None and not loose:
            return out
        self.shape = shape
        panel = fragment(
            "parts/figures.html", project=project, scene=scene, layer=chosen, rows=rows, several=len(look.layers),
            frame=frame, page=look.page, axes=look.axes,
            carrier=scene.layer(chosen.parent) if chosen is not None and chosen.parent else None,
            faces=FACES.values(), points=look.points, span=span, has_look=has_look, looks=looks,
            births=PLACES, eases=RING_EASES, effect_kinds=EFFECTS, blends=BLENDS, modes=MODES,
            mask=look.mask, folds=look.folds, relations=relations, shown=shown, goes_on=GOES_ON,
            related=chosen is not None and related_to(chosen),
            taken=taken,
        )  # fmt: skip
        # The panel first: the key's figures stand in it.
        return {"figures": panel, **out}

    def _key(
        self, look: Look, project: Project, scene: Scene, chosen: Layer | None, everywhere: list[OwnEase]
    ) -> tuple[KeyFigures | None, SegmentFigures | None]:
        """The first selected key of the chosen layer, and the segment that the selection means."""
        if chosen is None:
            return None, None
        ref = next((ref for ref in look.keys if ref.layer == chosen.id), None)
        if ref is None or ref.property not in chosen.properties:
            return None, None
        times = chosen.track(ref.property).key_times
        if ref.time not in times:
            return None, None
        index = times.index(ref.time)
        selected = {r.time for r in look.keys if (r.layer, r.property) == (ref.layer, ref.property)}
        own = [*(("project", ease) for ease in project.eases), *(("everywhere", ease) for ease in everywhere)]
        return (
            key_figures(scene, chosen, ref.property, index, look.unit),
            segment_figures(scene, chosen, ref.property, segments_of(times, selected), index, own),
        )


def _shape(rows: list[Row]) -> list[tuple[object, ...]]:
    """What rows are drawn from, but their numbers."""
    return [(row.label, row.properties, row.state, row.hint, row.colour, row.gradient) for row in rows]


def _told_in(
    look: Look, scene: Scene, layer: Layer, values: dict[str, tuple[float, ...]], time: int
) -> dict[str, tuple[float, ...]]:
    """The position told in the axes that are asked for, as one property or as two."""
    if not layer.axes_split:
        return {"position": position_in(scene, layer, values["position"], look.axes, time)}
    x, y = position_in(scene, layer, (*values["position_x"], *values["position_y"]), look.axes, time)
    return {"position_x": (x,), "position_y": (y,)}


@PANELS.add
class FiguresPanel(Panel):
    id: ClassVar[str] = "figures"
    light: ClassVar[bool] = True
    within: ClassVar[dict[str, tuple[str, ...]]] = {"figures": ("figures-key", "figures-segment")}
    by_lines: ClassVar[frozenset[str]] = frozenset(("figures-key", "figures-segment"))

    def __init__(self) -> None:
        self.figuring = Figuring()

    def forget(self) -> None:
        self.figuring.forget()

    def answer(self, showing: Showing) -> Part:
        values = showing.values() if showing.chosen is not None else {}
        eases = showing.shop.eases.all()
        return Part(fragments=self.figuring.drawn_for(
            showing.look, showing.project, showing.scene, showing.chosen, showing.frame, values, eases
        ))  # fmt: skip
