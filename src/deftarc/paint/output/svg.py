"""Animated SVG, and a page whose motion is CSS."""

from collections.abc import Callable
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from deftarc.core.document import Scene
from deftarc.core.evaluate import Branch, FrameTable, Leaf
from deftarc.formats.enclosed import enclosing, with_scene_alone
from deftarc.formats.write.pictures import Pictures
from deftarc.formats.write.svg.clock import Clock
from deftarc.formats.write.svg.document import AT_REST, page_text, svg_text
from deftarc.formats.write.svg.filters import sayable
from deftarc.formats.write.svg.tree import Tree
from deftarc.paint.output.base import OUTPUTS, Job, words
from deftarc.paint.output.movie import is_clear
from deftarc.paint.output.told import Carried
from deftarc.paint.output.vector import Score, Thing, Vector, VectorOptions, smears


class PlayedOptions(VectorOptions):
    loops: Annotated[int, Field(ge=0, le=65_535, title="Plays", description="How often it plays; 0 is for ever.")] = 0


class SvgOptions(PlayedOptions):
    motion: Annotated[
        Literal["css", "smil"],
        Field(title="Motion", description="What says how it moves.",
              json_schema_extra=words(css="CSS animations", smil="SVG's own elements (SMIL)")),
    ] = "css"  # fmt: skip
    again: Annotated[
        bool,
        Field(title="Can be opened again", description="The scene goes along, with every key, for Deft Arc to open."),
    ] = True


class Drawn(Vector):
    """What is written as SVG elements."""

    def beyond(self, branch: Branch, table: FrameTable) -> str:
        if smears(branch, table):
            return "its blur of motion"
        if isinstance(branch, Leaf) and branch.dots is not None:
            return "rings and particles"
        if isinstance(branch, Leaf) and branch.wash:
            return "a wash"
        if any(not sayable(each) for each in branch.effects):
            return "effects that CSS has no filter for"
        return ""

    def tree(
        self, job: Job, options: VectorOptions, score: Score, pictured: Callable[[Thing], Pictures | None], smil: bool
    ) -> tuple[Tree, str]:
        """The tree, and the elements it wrote."""
        assert isinstance(options, PlayedOptions)
        clock = Clock(float(score.start), float(score.end), float(job.scene.rate.flicks), options.loops)
        tree = Tree(clock, job.painter.drawings.drawings, job.picture, pictured, score.table.times.astype(float), smil)
        return tree, "".join(tree.thing(each) for each in score.things)


def grounded(job: Job, score: Score) -> Scene:
    """The scene, without a background where that is in its pictures."""
    return job.scene.changed(background=None) if score.grounded else job.scene


class AnimatedSvg(Drawn):
    id: ClassVar[str] = "svg"
    label: ClassVar[str] = "Drawing that moves (SVG)"
    suffix: ClassVar[str] = ".svg"
    media: ClassVar[str] = "image/svg+xml"
    icon: ClassVar[str] = "filetype-svg"
    about: ClassVar[str] = "sharp at every size, plays by itself in a page"
    options = SvgOptions

    def data(
        self, job: Job, options: VectorOptions, score: Score, pictured: Callable[[Thing], Pictures | None]
    ) -> bytes:
        assert isinstance(options, SvgOptions)
        tree, body = self.tree(job, options, score, pictured, options.motion == "smil")
        goes = options.again and job.project is not None
        along = enclosing(job.packed(lambda project: with_scene_alone(project, job.scene))) if goes else ""
        return svg_text(grounded(job, score), tree, body, options.scale, along=along).encode()

    def carried(self, job: Job, options: VectorOptions) -> list[Carried]:
        told = super().carried(job, options)
        if isinstance(options, SvgOptions) and options.again and job.project is not None:
            told.insert(0, Carried("kept", "The scene itself, so that Deft Arc opens it again as what it is."))
        return told


class CssPage(Drawn):
    id: ClassVar[str] = "css"
    label: ClassVar[str] = "Page with CSS keyframes (HTML)"
    suffix: ClassVar[str] = ".html"
    media: ClassVar[str] = "text/html"
    icon: ClassVar[str] = "code-slash"
    about: ClassVar[str] = "to be built into a page by hand"
    options = PlayedOptions

    def data(
        self, job: Job, options: VectorOptions, score: Score, pictured: Callable[[Thing], Pictures | None]
    ) -> bytes:
        tree, body = self.tree(job, options, score, pictured, False)
        svg = svg_text(grounded(job, score), tree, body, options.scale, alone=False)
        css = tree.clock.style().replace("@keyframes", "\n@keyframes").strip() + "\n" + AT_REST
        return page_text(job.scene.name, css, svg, is_clear(job.scene.background)).encode()


OUTPUTS.add(AnimatedSvg())
OUTPUTS.add(CssPage())
