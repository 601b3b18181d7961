"""Outputs that are no pictures but drawings with their motion: what all of them do before each writes its own text.

What a format has no word for leaves as pictures, one for each moment at which it looks another way, or is left out.
"""

import io
import itertools
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from hashlib import blake2b
from pathlib import Path
from typing import Annotated, Any, ClassVar, Literal, TypeVar

import numpy as np
from PIL import Image
from pydantic import Field

from deftarc.core.document import Scene
from deftarc.core.evaluate import Branch, FrameTable, Group, Leaf
from deftarc.core.plain.levels import Level
from deftarc.core.plain.pieces import Heap, Piece, Pieces, Thing, every
from deftarc.formats.write.pictures import Pictures
from deftarc.paint.output.base import Job, Output, Progress, RunOptions, Stretch, whole, words
from deftarc.paint.output.painted import Size
from deftarc.paint.output.told import PREVIEW_FRAMES, Carried, never_delivered
from deftarc.paint.skia.painter import blank, unpremultiplied


class VectorOptions(RunOptions):
    rest: Annotated[
        Literal["pictures", "left"],
        Field(title="What it cannot say", json_schema_extra=words(pictures="as pictures", left="left out")),
    ] = "pictures"


Chosen = TypeVar("Chosen", bound=VectorOptions)
#: What pictures are written as; large ones of which nothing is clear as JPEG where that is PNG.
Kind = Literal["webp", "png"]
#: Says why a branch by itself is beyond a format; empty where it is not.
Beyond = Callable[[Branch, FrameTable], str]


@dataclass(eq=False)
class Score:
    """A scene in pieces, from the bottom up, with what of it goes as pictures."""

    scene: Scene
    first: int
    count: int
    table: FrameTable
    things: tuple[Thing, ...]
    #: By the name of a thing that goes as pictures: why.
    pictured: dict[str, str] = field(default_factory=dict)
    #: What was taken off so that the rest can be said: by the name of a thing, what.
    left: dict[str, str] = field(default_factory=dict)
    #: Whether the background is in the first pictures.
    grounded: bool = False

    @property
    def start(self) -> int:
        return int(self.first * self.scene.rate.flicks)

    @property
    def end(self) -> int:
        return int((self.first + self.count) * self.scene.rate.flicks)

    def layer_names(self, names: dict[str, str]) -> list[str]:
        by_id = {layer.id: layer.name for layer in self.scene.layers}
        return sorted({by_id.get(name.partition("/")[0].rstrip("~"), name) for name in names})


def score_of(job: Job, first: int, count: int, beyond: Beyond, rest: str) -> Score:
    """A scene taken apart for a format that says what is beyond it."""
    scene = job.scene
    painter = job.painter
    table = painter.frames(scene, first, count)
    score = Score(scene, first, count, table, ())
    roots = list(table.roots)
    if rest == "left":
        roots = [each for root in roots if (each := _without(root, table, beyond, score)) is not None]
    else:
        roots = _merged(roots, table, score)
        for root in roots:
            _look_through(root, table, beyond, score)
    table = replace(table, roots=tuple(roots))
    reach = float(np.hypot(scene.width, scene.height))
    pieces = Pieces(scene, table, reach, painter.scenes.get)
    score.table, score.things = table, tuple(pieces.of(root) for root in roots)
    for thing in every(score.things):
        if isinstance(thing, Heap) and thing.group.effects and not thing.own and rest == "pictures":
            score.pictured[thing.group.layer] = "effects on a group that does not carry all that is in it"
    return score


#: Pixels from which on a picture is large.
LARGE = 300_000
#: Pictures tried to see how large they are, and frames of a small picture where there are any.
TRIED, FEW = 5, 36
#: The name of what is put together of all that a wash treats.
BENEATH = "~beneath"


def _merged(roots: list[Branch], table: FrameTable, score: Score) -> list[Branch]:
    """A wash treats all that lies beneath it, the background too: together they are one picture."""
    washes = [
        k for k, root in enumerate(roots) if isinstance(root, Leaf) and root.wash and root.shows[1] > root.shows[0]
    ]
    if not washes:
        return roots
    top = washes[-1]
    rows = np.eye(3)[None]
    heap = Group(BENEATH, tuple(roots[: top + 1]), rows, np.ones(1), (0, len(table.times)))
    score.grounded = True
    for each in roots[: top + 1]:
        score.pictured[each.layer] = "what a wash treats"
    score.pictured[BENEATH] = ""
    return [heap, *roots[top + 1 :]]


def _look_through(branch: Branch, table: FrameTable, beyond: Beyond, score: Score) -> bool:
    """Whether a branch can be said, perhaps with pictures in it; else it is one itself."""
    if branch.layer in score.pictured:
        return True
    why = beyond(branch, table)
    if why:
        score.pictured[branch.layer] = why
        return True
    if branch.matte is not None and _any(branch.matte.branch, table, beyond):
        score.pictured[branch.layer] = "what it shows through"
        return True
    if isinstance(branch, Group):
        inside = branch.clip is not None or branch.effects or branch.masks
        if inside and any(_any(each, table, beyond) for each in branch.children):
            # What is in its own px would be moved with it once more.
            score.pictured[branch.layer] = "what is in it"
            return True
        for each in branch.children:
            _look_through(each, table, beyond, score)
    return False


def _any(branch: Branch, table: FrameTable, beyond: Beyond) -> bool:
    if beyond(branch, table):
        return True
    if branch.matte is not None and _any(branch.matte.branch, table, beyond):
        return True
    return isinstance(branch, Group) and any(_any(each, table, beyond) for each in branch.children)


def _without(branch: Branch, table: FrameTable, beyond: Beyond, score: Score) -> Branch | None:
    """A branch without what cannot be said of it; None where nothing is left."""
    why = beyond(branch, table)
    if why:
        score.left[branch.layer] = why
        if isinstance(branch, Leaf) and (branch.wash or branch.dots is not None):
            return None
        branch = replace(branch, effects=tuple(
            each for each in branch.effects if not beyond(replace(branch, effects=(each,)), table)
        ))  # fmt: skip
    if branch.matte is not None:
        through = _without(branch.matte.branch, table, beyond, score)
        branch = replace(branch, matte=None if through is None else replace(branch.matte, branch=through))
    if isinstance(branch, Group):
        kept = tuple(each for child in branch.children if (each := _without(child, table, beyond, score)) is not None)
        branch = replace(branch, children=kept)
    return branch


def smears(branch: Branch, table: FrameTable) -> bool:
    return (
        table.smear is not None
        and branch.layer in table.smear.table.by_name
        and any(table.smear.rows(branch.layer, row) for row in range(len(table.times)))
    )


def name_of(thing: Thing) -> str:
    """The name of what a thing is in its table."""
    return thing.leaf.layer if isinstance(thing, Piece) else thing.group.layer


def picture_scale(options: VectorOptions) -> float:
    """By how much pictures are larger than the scene."""
    return min(2.0, options.scale)


def pictures_of(
    job: Job,
    score: Score,
    thing: Thing,
    scale: float,
    rows: Sequence[int] | None = None,
    kind: Kind = "webp",
    painted: Callable[[], None] = lambda: None,
) -> Pictures:
    """A thing painted at each frame, or in some rows, those that look alike once; ``painted`` is called after each."""
    branch = thing.leaf if isinstance(thing, Piece) else thing.group
    alone = replace(branch, blend="normal")
    scene = job.scene
    background = scene.background if branch.layer == BENEATH else None
    roots: tuple[Branch, ...] = alone.children if branch.layer == BENEATH and isinstance(alone, Group) else (alone,)
    table = replace(score.table, roots=roots)
    size = Size.of(scene, scale)
    pixels, surface = blank(size.width, size.height)
    known: dict[bytes, int] = {}
    shown: list[tuple[bytes, str, tuple[float, float, float, float]]] = []
    runs: list[list[tuple[float, float]]] = []
    last = -1
    frame = scene.rate.flicks
    for row in range(score.count) if rows is None else rows:
        job.painter.paint(surface.getCanvas(), table, row, background, size.factors(scene))
        surface.flushAndSubmit()
        painted()
        box = _box(pixels)
        time = float(score.start + row * frame)
        if box is None:
            last = -1
            continue
        left, top, right, bottom = box
        part = unpremultiplied(np.ascontiguousarray(pixels[top:bottom, left:right]))
        # Pictures of a long scene are more than memory holds: they are known by what comes of them.
        key = blake2b(part.tobytes(), key=str(box).encode()).digest()
        number = known.setdefault(key, len(shown))
        if number == len(shown):
            x, y = scene.width / size.width, scene.height / size.height
            shown.append((*_encoded(part, kind), (left * x, top * y, (right - left) * x, (bottom - top) * y)))
            runs.append([])
        if number == last:
            runs[number][-1] = (runs[number][-1][0], time + frame)
        else:
            runs[number].append((time, time + frame))
        last = number
    return Pictures(tuple((*each, tuple(when)) for each, when in zip(shown, runs, strict=True)))


def _box(pixels: Any) -> tuple[int, int, int, int] | None:
    rows = np.flatnonzero(pixels[..., 3].any(axis=1))
    if not len(rows):
        return None
    columns = np.flatnonzero(pixels[..., 3].any(axis=0))
    return int(columns[0]), int(rows[0]), int(columns[-1]) + 1, int(rows[-1]) + 1


def _encoded(pixels: Any, kind: Kind) -> tuple[bytes, str]:
    """A picture as it is, and what kind of file that is; a large one of which nothing is clear as close as a photograph
    is.
    """
    out = io.BytesIO()
    image = Image.fromarray(pixels, "RGBA")
    large = pixels.shape[0] * pixels.shape[1] > LARGE and bool((pixels[..., 3] == 255).all())
    if kind == "webp":
        told: dict[str, Any] = {"quality": 92, "method": 2} if large else {"lossless": True, "quality": 20, "method": 1}
        image.save(out, "WEBP", **told)
        return out.getvalue(), "image/webp"
    if large:
        image.convert("RGB").save(out, "JPEG", quality=94, subsampling=0)
        return out.getvalue(), "image/jpeg"
    image.save(out, "PNG", compress_level=6)
    return out.getvalue(), "image/png"


class Vector(Output[Any]):
    """A drawing with its motion, made in one go."""

    options: type[VectorOptions]
    #: What its pictures are written as.
    pictures: ClassVar[Kind] = "webp"

    def beyond(self, branch: Branch, table: FrameTable) -> str:
        """Why a branch by itself cannot be said; empty where it can."""
        raise NotImplementedError

    def beyond_of(self, job: Job) -> Beyond:
        """The same, where it takes a job's drawings to tell."""
        return self.beyond

    def score(self, job: Job, options: VectorOptions, run: Stretch | None = None) -> Score:
        first, count = options.frames(job.scene) if run is None else (run.first, run.count)
        return score_of(job, first, count, self.beyond_of(job), options.rest)

    def data(
        self, job: Job, options: VectorOptions, score: Score, pictured: Callable[[Thing], Pictures | None]
    ) -> bytes:
        """What its file has in it."""
        raise NotImplementedError

    def make(self, job: Job, options: VectorOptions, run: Stretch, target: Path, progress: Progress) -> None:
        score = self.score(job, options, run)
        made: dict[int, Pictures] = {}
        # Every frame is painted once for each thing that leaves as pictures: it counts when all of these are.
        things = sum(name_of(thing) in score.pictured for thing in every(score.things)) or 1
        count = itertools.count(1)

        def painted() -> None:
            progress(min(score.count - 1, next(count) // things), score.count)

        def pictured(thing: Thing) -> Pictures | None:
            if name_of(thing) not in score.pictured:
                return None
            if id(thing) not in made:
                scale = picture_scale(options)
                made[id(thing)] = pictures_of(job, score, thing, scale, kind=self.pictures, painted=painted)
            return made[id(thing)]

        with whole(target) as half:
            half.write_bytes(self.data(job, options, score, pictured))
        progress(score.count, score.count)

    def sized(self, job: Job, options: VectorOptions) -> int | None:
        """All of its text, and of its pictures as many as say how large they are."""
        score = self.score(job, options)
        found: dict[int, int] = {}

        def pictured(thing: Thing) -> Pictures | None:
            if name_of(thing) not in score.pictured:
                return None
            rows = sorted({round((score.count - 1) * k / (TRIED - 1)) for k in range(TRIED)})
            told = pictures_of(job, score, thing, picture_scale(options), rows, self.pictures)
            size = sum(len(data) for data, *_ in told.shown)
            found[id(thing)] = round(size * 4 / 3 * score.count / len(rows))
            return Pictures(())

        return len(self.data(job, options, score, pictured)) + sum(found.values())

    def shown_frames(self, job: Job, options: VectorOptions) -> int:
        return FEW if self.score(job, options).pictured else PREVIEW_FRAMES

    def total(self, scene: Scene, options: VectorOptions) -> int:
        return options.frames(scene)[1]

    def carried(self, job: Job, options: VectorOptions) -> list[Carried]:
        score = self.score(job, options)
        return [*_said(score), *self.also(job, score), *never_delivered(job.scene)]

    def also(self, job: Job, score: Score) -> Iterator[Carried]:
        """What else is to be said of a format."""
        yield from ()


def _said(score: Score) -> Iterator[Carried]:
    kept = baked = 0
    seen: set[int] = set()
    inside: dict[int, int] = {}
    for thing in every(tuple(each for each in score.things if name_of(each) not in score.pictured)):
        if name_of(thing) in score.pictured:
            continue
        for level in thing.levels:
            if id(level) in seen:
                continue
            seen.add(id(level))
            kept += _keys(level)
            baked += level.baked
        inside[id(thing)] = 1
        for lane in (thing.opacity, *(thing.look.values() if isinstance(thing, Piece) else ())):
            if lane.moves and lane.exact:
                kept += len(lane.times)
            elif lane.moves:
                baked += len(lane.times)
    things = f"{len(inside)} drawings" if len(inside) > 1 else "one drawing"
    if kept:
        yield Carried("kept", f"{kept} keys with their eases, of {things}.", kept)
    elif inside:
        yield Carried("kept", f"{things[0].upper()}{things[1:]}.", len(inside))
    if baked:
        yield Carried(
            "baked", f"{baked} keys for what follows, answers or repeats, for paths and for colours between.", baked
        )
    if score.pictured:
        names = score.layer_names({name: why for name, why in score.pictured.items() if name != BENEATH})
        yield Carried(
            "picture", f"{listed(names)}: {listed(sorted({w for w in score.pictured.values() if w}))}.", len(names)
        )
    if score.left:
        names = score.layer_names(score.left)
        yield Carried("left", f"Of {listed(names)}: {listed(sorted(set(score.left.values())))}.", len(names))


def _keys(level: Level) -> int:
    told = [lane for lane in level.lanes if lane.moves and lane.exact]
    split = [lane for pair in (level.split or {}).values() for lane in pair]
    return sum(len(lane.times) for lane in (*told, *split)) + (len(level.travel.distance.times) if level.travel else 0)


def listed(names: list[str], most: int = 6) -> str:
    shown = names[:most]
    more = len(names) - len(shown)
    if more:
        return f"{', '.join(shown)} and {more} more"
    return shown[0] if len(shown) == 1 else f"{', '.join(shown[:-1])} and {shown[-1]}" if shown else ""


__all__ = [
    "BENEATH", "Beyond", "Score", "Thing", "Vector", "VectorOptions", "listed", "name_of", "pictures_of", "score_of",
    "smears",
]  # fmt: skip
