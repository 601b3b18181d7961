"""Animated SVG, and a page whose motion is CSS."""

from pathlib import Path
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from deftarc.core.evaluate import Branch, FrameTable, Leaf
from deftarc.formats.write.svg.clock import Clock
from deftarc.formats.write.svg.document import AT_REST, page_text, svg_text
from deftarc.formats.write.svg.tree import Pictures, Tree
from deftarc.paint.output.base import OUTPUTS, Job, Progress, Stretch, whole, words
from deftarc.paint.output.movie import is_clear
from deftarc.paint.output.vector import Score, Thing, Vector, VectorOptions, pictures_of, smears


class SvgOptions(VectorOptions):
    motion: Annotated[
        Literal["css", "smil"],
        Field(title="Motion", description="What says how it moves.",
              json_schema_extra=words(css="CSS animations", smil="SVG's own elements (SMIL)")),
    ] = "css"  # fmt: skip


class Drawn(Vector):
    """What is written as SVG elements."""

    def beyond(self, branch: Branch, table: FrameTable) -> str:
        if smears(branch, table):
            return "its blur of motion"
        if isinstance(branch, Leaf) and branch.dots is not None:
            return "rings and particles"
        if isinstance(branch, Leaf) and branch.wash:
            return "a wash"
        if branch.effects:
            return "its effects"
        if any(np.any(mask.feather > 0) for mask in branch.masks):
            return "masks with a soft edge"
        return ""

    def tree(self, job: Job, score: Score, options: VectorOptions, smil: bool) -> tuple[Tree, str]:
        """The tree, and the elements it wrote."""
        scene = job.scene
        clock = Clock(float(score.start), float(score.end), float(scene.rate.flicks), options.loops)
        made: dict[int, Pictures] = {}

        def pictured(thing: Thing) -> Pictures | None:
            name = thing.leaf.layer if hasattr(thing, "leaf") else thing.group.layer
            if name not in score.pictured:
                return None
            if id(thing) not in made:
                made[id(thing)] = pictures_of(job, score, thing, min(2.0, max(1.0, options.scale)))
            return made[id(thing)]

        tree = Tree(clock, job.painter.drawings.drawings, job.picture, pictured, score.table.times.astype(float), smil)
        return tree, "".join(tree.thing(each) for each in score.things)


class AnimatedSvg(Drawn):
    id: ClassVar[str] = "svg"
    label: ClassVar[str] = "Drawing that moves (SVG)"
    suffix: ClassVar[str] = ".svg"
    media: ClassVar[str] = "image/svg+xml"
    icon: ClassVar[str] = "filetype-svg"
    about: ClassVar[str] = "sharp at every size, plays by itself in a page"
    options = SvgOptions

    def make(self, job: Job, options: SvgOptions, run: Stretch, target: Path, progress: Progress) -> None:
        score = self.score(job, options)
        tree, body = self.tree(job, score, options, options.motion == "smil")
        scene = job.scene.changed(background=None) if score.grounded else job.scene
        with whole(target) as half:
            half.write_text(svg_text(scene, tree, body, options.scale), "utf-8")
        progress(score.count, score.count)


class CssPage(Drawn):
    id: ClassVar[str] = "css"
    label: ClassVar[str] = "Page with CSS keyframes (HTML)"
    suffix: ClassVar[str] = ".html"
    media: ClassVar[str] = "text/html"
    icon: ClassVar[str] = "code-slash"
    about: ClassVar[str] = "to be built into a page by hand"
    options = VectorOptions

    def make(self, job: Job, options: VectorOptions, run: Stretch, target: Path, progress: Progress) -> None:
        score = self.score(job, options)
        tree, body = self.tree(job, score, options, False)
        scene = job.scene.changed(background=None) if score.grounded else job.scene
        svg = svg_text(scene, tree, body, options.scale, alone=False)
        css = tree.clock.style().replace("@keyframes", "\n@keyframes").strip() + "\n" + AT_REST
        with whole(target) as half:
            half.write_text(page_text(scene.name, css, svg, is_clear(job.scene.background)), "utf-8")
        progress(score.count, score.count)


OUTPUTS.add(AnimatedSvg())
OUTPUTS.add(CssPage())
