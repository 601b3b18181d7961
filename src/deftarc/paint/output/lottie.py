"""Lottie: a drawing with its motion that other programs open and players in pages and apps play."""

import re
from collections.abc import Callable, Iterator
from typing import Any, ClassVar

import numpy as np

from deftarc.core.evaluate import Branch, FrameTable, Leaf, drawn_as
from deftarc.core.plain.pieces import Piece, every
from deftarc.formats.write.lottie.disputed import disputed
from deftarc.formats.write.lottie.document import lottie_of, lottie_text, lottie_zip
from deftarc.formats.write.lottie.keys import Count
from deftarc.formats.write.lottie.masks import sayable_masks
from deftarc.formats.write.lottie.shapes import drawable
from deftarc.formats.write.lottie.tree import Tree
from deftarc.formats.write.pictures import Pictures
from deftarc.paint.output.base import OUTPUTS, Job
from deftarc.paint.output.svg import grounded
from deftarc.paint.output.told import Carried
from deftarc.paint.output.vector import (
    Beyond,
    Kind,
    Score,
    Thing,
    Vector,
    VectorOptions,
    listed,
    name_of,
    smears,
)  # fmt: skip


class Lottie(Vector):
    id: ClassVar[str] = "lottie"
    label: ClassVar[str] = "Lottie (JSON)"
    suffix: ClassVar[str] = ".json"
    media: ClassVar[str] = "application/json"
    icon: ClassVar[str] = "filetype-json"
    about: ClassVar[str] = "paths, eases and layers, for other programs and for players in pages and apps"
    pictures: ClassVar[Kind] = "png"
    options = VectorOptions

    def beyond_of(self, job: Job) -> Beyond:
        drawings = job.painter.drawings.drawings

        def beyond(branch: Branch, table: FrameTable) -> str:
            if smears(branch, table):
                return "its blur of motion"
            if branch.effects:
                return "effects"
            if not sayable_masks(branch.masks):
                return "masks with soft edges"
            if not isinstance(branch, Leaf):
                return ""
            if branch.dots is not None:
                return "rings and particles"
            if branch.wash:
                return "a wash"
            drawing = drawings.get(drawn_as(branch.layer))
            if drawing is not None and not all(drawable(node) for node in drawing.nodes):
                return "gradients that begin at a ring"
            return ""

        return beyond

    def also(self, job: Job, score: Score) -> Iterator[Carried]:
        """What not every player shows as it is."""
        drawings = job.painter.drawings.drawings
        found: dict[str, str] = {}
        for thing in every(score.things):
            if name_of(thing) not in score.pictured:
                drawing = drawings.get(drawn_as(thing.leaf.layer)) if isinstance(thing, Piece) else None
                found |= {f"{name_of(thing)}/{what}": what for what in disputed(thing, drawing)}
        if found:
            names = score.layer_names(found)
            yield Carried("disputed", f"Of {listed(names)}: {listed(sorted(set(found.values())))}.", len(names))

    def told(
        self, job: Job, options: VectorOptions, score: Score, pictured: Callable[[Thing], Pictures | None]
    ) -> dict[str, Any]:
        scene = grounded(job, score)
        count = Count(float(score.start), float(score.end), float(scene.rate.flicks))
        reach = float(np.hypot(scene.width, scene.height))
        tree = Tree(
            count, job.painter.drawings.drawings, job.picture, pictured, score.table.times.astype(float), reach
        )  # fmt: skip
        return lottie_of(scene, tree, score.things, options.scale)

    def data(
        self, job: Job, options: VectorOptions, score: Score, pictured: Callable[[Thing], Pictures | None]
    ) -> bytes:
        return lottie_text(self.told(job, options, score, pictured)).encode()


class LottieZip(Lottie):
    id: ClassVar[str] = "lottie-zip"
    label: ClassVar[str] = "Lottie, zipped (.lottie)"
    suffix: ClassVar[str] = ".lottie"
    media: ClassVar[str] = "application/zip+dotlottie"
    icon: ClassVar[str] = "file-earmark-zip"
    previewed: ClassVar[str] = "lottie"
    about: ClassVar[str] = "the same in a quarter of the room, for players that unpack it"

    def data(
        self, job: Job, options: VectorOptions, score: Score, pictured: Callable[[Thing], Pictures | None]
    ) -> bytes:
        name = re.sub(r"[^a-z0-9]+", "-", job.scene.name.lower()).strip("-") or "scene"
        return lottie_zip(self.told(job, options, score, pictured), name)


OUTPUTS.add(Lottie())
OUTPUTS.add(LottieZip())
