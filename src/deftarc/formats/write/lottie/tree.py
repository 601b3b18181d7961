"""Pieces and heaps as Lottie layers: shapes, pictures and compositions, with their masks, mattes and blending."""

import base64
import io
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from math import ceil
from typing import Any

from PIL import Image

from deftarc.core.base.arrays import Floats
from deftarc.core.document.blend import BLENDS
from deftarc.core.document.drawing import Bitmap, Drawing, Node, Shape
from deftarc.core.document.drawing import Group as DrawnGroup
from deftarc.core.evaluate import Branch, MaskAt, drawn_as
from deftarc.core.plain.lanes import Lane, sampled
from deftarc.core.plain.pieces import Forms, Heap, Piece, Thing, forms_of
from deftarc.core.spaces.outline import Outline
from deftarc.formats.write.lottie.contours import paths_of
from deftarc.formats.write.lottie.keys import Count, number, still
from deftarc.formats.write.lottie.masks import ALPHA, LUMA, NOT_ALPHA, factors_of, mask_list
from deftarc.formats.write.lottie.moved import IDLE, Moved, Step, Transform, placed
from deftarc.formats.write.lottie.shapes import Drawn, group
from deftarc.formats.write.pictures import Pictures

Layer = dict[str, Any]
Chain = tuple[Step, ...]
#: The numbers of W3C's blend modes, in their order.
BLEND: dict[str, int] = {name: k for k, name in enumerate(BLENDS)}
#: Kinds of layer.
COMPOSITION, SOLID, PICTURE, NOTHING, SHAPES = 0, 1, 2, 3, 4


def layer_of(kind: int, **rest: Any) -> Layer:
    """A layer that says it is flat before anything else: some players read a turn only where they know that by then."""
    return {"ty": kind, "ddd": 0, **rest}


@dataclass(eq=False)
class Comp:
    """Layers of one picture, from the top down, and what carries them beneath."""

    width: int
    height: int
    #: What brings the px in which things are told to its own, which begin at its top left.
    shift: Chain = ()
    layers: list[Layer] = field(default_factory=list)
    carriers: list[Layer] = field(default_factory=list)
    _known: dict[tuple[int, ...], int] = field(default_factory=dict)

    def carrier(self, chain: Chain, length: float) -> int | None:
        """The number of a layer that does what a chain does; None where that is nothing."""
        chain = tuple(step for step in chain if not step.idle)
        if not chain:
            return None
        key = tuple(id(step) for step in chain)
        if key not in self._known:
            above = self.carrier(chain[:-1], length)
            number = len(self._known) + 1
            self._known[key] = number
            layer = layer_of(NOTHING, nm=chain[-1].name, ind=number, ip=0, op=length, st=0)
            self.carriers.append(layer | ({"parent": above} if above else {}) | {"ks": dict(chain[-1].transform)})
        return self._known[key]

    def beside(self, layers: list[Layer] | None = None) -> "Comp":
        """Another of the same size that the same things carry."""
        return Comp(self.width, self.height, self.shift, layers or [], self.carriers, self._known)

    @property
    def all(self) -> list[Layer]:
        """Its layers, and of what carries them as much as is needed."""
        by_number = {each["ind"]: each for each in self.carriers}
        todo = [each["parent"] for each in self.layers if "parent" in each]
        used: set[int] = set()
        while todo:
            one = todo.pop()
            if one not in used:
                used.add(one)
                todo += [by_number[one]["parent"]] if "parent" in by_number[one] else []
        return self.layers + [each for each in self.carriers if each["ind"] in used]


@dataclass
class Tree:
    """Writes layers. ``drawings`` are by the names leaves have; ``read`` hands over a picture's bytes and kind."""

    count: Count
    drawings: Mapping[str, Drawing]
    read: Callable[[str], tuple[bytes, str]]
    pictured: Callable[[Thing], Pictures | None]
    #: The moments of the frames, (F,) in flicks.
    times: Floats
    reach: float
    assets: list[dict[str, Any]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.moved = Moved(self.count, self.times, self.reach)
        self.drawn = Drawn(self.count, self.times)
        self._pictures: dict[str, tuple[str, int, int]] = {}

    @property
    def length(self) -> float:
        return self.count.frames(self.count.end)

    def comp(self, width: int, height: int, things: tuple[Thing, ...]) -> Comp:
        """A composition of things, told from the bottom up."""
        made = Comp(width, height)
        for each in things:
            self.put(made, each, ())
        return made

    # --- things ---

    def put(self, comp: Comp, each: Thing, outer: Chain) -> None:
        """Lays a thing on top of a composition; ``outer`` is what moves it besides its own levels."""
        branch = each.leaf if isinstance(each, Piece) else each.group
        if branch.shows[1] <= branch.shows[0]:
            return
        pictures = self.pictured(each)
        if pictures is not None:
            comp.layers[:0] = self._shown(pictures, each)
            return
        chain = outer + self.moved.chain(each.levels)
        if isinstance(each, Heap) and _loose(each):
            for child in each.children:
                self.put(comp, child, chain if each.own else outer)
            return
        layers = self._piece(comp, each, chain) if isinstance(each, Piece) else self._heap(comp, each, chain, outer)
        layers = self._masked(comp, layers, branch.masks, chain, isinstance(each, Piece))
        if each.matte is not None and branch.matte is not None:
            layers = self._through(comp, layers, self._matte(comp, each, branch))
        dim = each.opacity.moves or each.opacity.value[0] != 1
        blends = branch.blend != "normal"
        if dim or blends:
            mattes = "tt" in layers[-1]
            if len(layers) > (2 if mattes else 1):
                layers = [self._together(comp, layers, _name(each))]
            top = layers[-1]
            if dim:
                top["ks"] = top["ks"] | {"o": self.count.property(each.opacity, 3, 100)}
            if blends:
                top["bm"] = BLEND[branch.blend]
        for layer in layers:
            if "td" not in layer:
                if branch.shows[1] < self.length:
                    lane = each.opacity if dim else Lane.still(1.0)
                    layer["ks"] = layer["ks"] | {"o": self.count.share(lane, branch.shows)}
                layer["ip"], layer["op"] = branch.shows
                layer["nm"] = _name(each)
        comp.layers[:0] = layers

    def _layer(self, comp: Comp, kind: int, chain: Chain, **rest: Any) -> Layer:
        """A layer that a chain moves, the last of it by its own transform."""
        layer = layer_of(kind, **{"nm": "", **rest}, ip=0, op=self.length, st=0)
        above = comp.carrier(chain[:-1], self.length) if chain else None
        own = chain[-1].transform if chain else IDLE
        return layer | ({"parent": above} if above else {}) | {"ks": dict(own) | {"o": still(100)}}

    def _beneath(self, comp: Comp, kind: int, chain: Chain, own: Transform, **told: Any) -> Layer:
        """A layer that all of a chain carries."""
        return self._layer(comp, kind, (*chain, Step("", own)), **told)

    def _together(self, comp: Comp, layers: list[Layer], name: str) -> Layer:
        """Layers that lie in a composition as one layer of it."""
        return self._layer(comp, COMPOSITION, (), nm=name, **self._kept(comp.beside(layers), name))

    def _kept(self, comp: Comp, name: str) -> dict[str, Any]:
        """A composition as an asset, and what a layer says that shows it."""
        asset: dict[str, Any] = {"id": f"c{len(self.assets) + 1}", "nm": name, "layers": []}
        self.assets.append(asset)
        asset["layers"] = comp.all
        return {"refId": asset["id"], "w": comp.width, "h": comp.height}

    # --- pieces ---

    def _piece(self, comp: Comp, each: Piece, chain: Chain) -> list[Layer]:
        nodes = self.drawings[drawn_as(each.leaf.layer)].nodes
        changes = each.look or each.form is not None or "drawn" in each.leaf.look
        if changes and len(nodes) == 1 and isinstance(nodes[0], Shape):
            return [self._layer(comp, SHAPES, chain, shapes=self.drawn.changing(each, nodes[0]))]
        return self._nodes(comp, nodes, chain) or [self._layer(comp, SHAPES, chain, shapes=[])]

    def _nodes(self, comp: Comp, nodes: tuple[Node, ...], chain: Chain) -> list[Layer]:
        """Nodes as layers, from the top down: shapes that follow one another are one."""
        out: list[Layer] = []
        shapes: list[dict[str, Any]] = []

        def done() -> None:
            nonlocal shapes
            if shapes:
                out.insert(0, self._layer(comp, SHAPES, chain, shapes=shapes))
                shapes = []

        for node in _flat(nodes):
            if isinstance(node, Shape):
                shapes = self.drawn.still(node) + shapes
                continue
            done()
            if isinstance(node, Bitmap):
                name, width, height = self._asset(node.asset)
                own = placed(node.x, node.y, node.width / width, node.height / height)
                out.insert(0, self._beneath(comp, PICTURE, chain, own, refId=name))
            else:
                out[:0] = self._drawn_group(comp, node, chain)
        done()
        return out

    def _drawn_group(self, comp: Comp, node: DrawnGroup, chain: Chain) -> list[Layer]:
        inner = comp.beside(self._nodes(comp, node.nodes, chain))
        shown = self._layer(comp, COMPOSITION, (), **self._kept(inner, "Group"))
        shown["ks"] = shown["ks"] | {"o": still(number(100 * node.opacity))}
        if node.clip is None:
            return [shown]
        clip = Outline.parse(node.clip)
        form = Forms(Lane.still(*clip.points.reshape(-1)), clip.verbs)
        return self._through(
            comp, [shown], (self._filled(comp, [(form, node.clip_rule, Lane.still(1.0))], chain), ALPHA)
        )

    def _asset(self, name: str) -> tuple[str, int, int]:
        """A picture among the assets: its id and its size."""
        if name not in self._pictures:
            data, media = self.read(name)
            picture = Image.open(io.BytesIO(data))
            if media == "image/webp":
                # Few players read it.
                out = io.BytesIO()
                picture.save(out, "PNG")
                data, media = out.getvalue(), "image/png"
            self._pictures[name] = (self._picture(data, media, *picture.size), *picture.size)
        return self._pictures[name]

    def _picture(self, data: bytes, media: str, width: int, height: int) -> str:
        name = f"p{len(self.assets) + 1}"
        told = f"data:{media};base64,{base64.b64encode(data).decode()}"
        self.assets.append({"id": name, "w": width, "h": height, "u": "", "p": told, "e": 1})
        return name

    def _shown(self, pictures: Pictures, each: Thing) -> list[Layer]:
        """Pictures in turn, each at its moments."""
        out: list[tuple[float, Layer]] = []
        for data, media, (x, y, width, height), runs in pictures.shown:
            wide, tall = Image.open(io.BytesIO(data)).size
            name = self._picture(data, media, wide, tall)
            for first, last in runs:
                at = {"ip": self.count.frames(first), "op": self.count.frames(last)}
                branch = each.leaf if isinstance(each, Piece) else each.group
                blend = {"bm": BLEND[branch.blend]} if branch.blend != "normal" else {}
                share = self.count.share(Lane.still(1.0), (at["ip"], at["op"]))
                own = placed(x, y, width / wide, height / tall) | {"o": share}
                layer = layer_of(PICTURE, nm=_name(each), refId=name, **at, st=0, **blend, ks=own)
                out.append((at["ip"], layer))
        return [told for _, told in sorted(out, key=lambda pair: pair[0])]

    # --- heaps ---

    def _heap(self, comp: Comp, each: Heap, chain: Chain, outer: Chain) -> list[Layer]:
        clip = each.group.clip
        if clip is None:
            inner = comp.beside()
            for child in each.children:
                self.put(inner, child, chain if each.own else outer)
            return [self._layer(comp, COMPOSITION, (), **self._kept(inner, _name(each)))]
        left, top, right, bottom = clip
        shift = (Step("", placed(-left, -top)),) if left or top else ()
        inner = Comp(max(1, ceil(right - left)), max(1, ceil(bottom - top)), shift)
        for child in each.children:
            self.put(inner, child, shift)
        told = self._kept(inner, _name(each))
        if not shift:
            return [self._layer(comp, COMPOSITION, chain, **told)]
        return [self._beneath(comp, COMPOSITION, chain, placed(left, top), **told)]

    # --- masks and mattes ---

    def _through(self, comp: Comp, layers: list[Layer], matte: tuple[Layer, int]) -> list[Layer]:
        """Layers that show through one above them."""
        over, how = matte
        over["td"] = 1
        own = layers[0] if len(layers) == 1 else self._together(comp, layers, layers[-1]["nm"])
        own["tt"] = how
        return [over, own]

    def _masked(
        self, comp: Comp, layers: list[Layer], masks: tuple[MaskAt, ...], chain: Chain, piece: bool
    ) -> list[Layer]:
        if not masks:
            return layers
        alone = piece and len(layers) == 1 and layers[0]["ty"] == SHAPES
        if alone and (listed := mask_list(masks)) is not None:
            layers[0] |= {"hasMask": True, "masksProperties": [self._mask(mode, mask) for mode, mask in listed]}
            return layers
        for covers, how in factors_of(masks) or []:
            layers = self._through(comp, layers, (self._white(comp, covers, chain, covers[0].inverted), how))
        return layers

    def _mask(self, mode: str, mask: MaskAt | None) -> dict[str, Any]:
        if mask is None:
            spots = [[-FAR, -FAR], [FAR, -FAR], [FAR, FAR], [-FAR, FAR]]
            shape = {"v": spots, "i": [[0, 0]] * 4, "o": [[0, 0]] * 4, "c": True}
            return {
                "mode": mode,
                "pt": {"a": 0, "k": shape},
                "o": still(100),
                "x": still(0),
                "inv": False,
                "nm": "Everything",
            }
        (path,) = paths_of(self._form(mask), self.count)
        share = self.count.property(self._shares(mask.opacity), 3, 100)
        return {"mode": mode, "pt": path["ks"], "o": share, "x": still(0), "inv": False, "nm": "Mask"}

    def _form(self, mask: MaskAt) -> Forms:
        return forms_of(self.times, mask.outline)

    def _shares(self, rows: Floats) -> Lane:
        return sampled(self.times, rows.reshape(-1, 1), 1e-3) if len(rows) > 1 else Lane.still(float(rows[0]))

    def _white(self, comp: Comp, masks: tuple[MaskAt, ...], chain: Chain, whole: bool = False) -> Layer:
        """Outlines in white, for a matte; as much of each as it says, or ``whole``."""
        told = [
            (self._form(mask), mask.rule, Lane.still(1.0) if whole else self._shares(mask.opacity)) for mask in masks
        ]
        return self._filled(comp, told, chain)

    def _filled(self, comp: Comp, forms: list[tuple[Forms, str, Lane]], chain: Chain) -> Layer:
        items: list[Layer] = []
        for form, rule, share in forms:
            if not form.verbs and form.each is None:
                continue
            shown = self.count.property(share, 3, 100)
            fill = {"ty": "fl", "c": still(1, 1, 1), "o": shown, "r": 2 if rule == "evenodd" else 1}
            items.insert(0, group([*paths_of(form, self.count), fill]))
        return self._layer(comp, SHAPES, chain, shapes=items, nm="Mask")

    def _matte(self, comp: Comp, each: Thing, branch: Branch) -> tuple[Layer, int]:
        assert each.matte is not None
        assert branch.matte is not None
        by, inverted = branch.matte.by, branch.matte.inverted
        inner = comp.beside()
        self.put(inner, each.matte, comp.shift)
        if by == "alpha" or not inverted:
            how = (NOT_ALPHA if inverted else ALPHA) if by == "alpha" else LUMA
            if len(inner.layers) == 1 and "tt" not in inner.layers[0]:
                return inner.layers[0], how
        else:
            # Few players know it turned round: what is light is made dark, on a ground that is light by then.
            size = {"sw": comp.width, "sh": comp.height}
            ground = self._layer(inner, SOLID, (), **size, sc="#000000")
            turn = self._layer(inner, SOLID, (), **size, sc="#ffffff") | {"bm": BLEND["difference"]}
            inner.layers = [turn, *inner.layers, ground]
            how = LUMA
        return self._layer(comp, COMPOSITION, (), nm=_name(each.matte), **self._kept(inner, _name(each.matte))), how


#: Far enough out for whatever is masked.
FAR = 30_000


def _loose(heap: Heap) -> bool:
    """Whether a heap makes no difference to what is in it."""
    branch = heap.group
    plain = branch.blend == "normal" and not heap.opacity.moves and heap.opacity.value[0] == 1
    if not plain or branch.clip is not None or branch.masks or branch.matte is not None or heap.matte is not None:
        return False
    return all(_of(child).blend == "normal" for child in heap.children)


def _of(thing: Thing) -> Branch:
    return thing.leaf if isinstance(thing, Piece) else thing.group


def _name(thing: Thing) -> str:
    return thing.layer.name if thing.layer is not None else ""


def _flat(nodes: tuple[Node, ...]) -> list[Node]:
    """Nodes without the groups that do nothing."""
    out: list[Node] = []
    for node in nodes:
        if isinstance(node, DrawnGroup) and node.opacity >= 1 and node.clip is None:
            out += _flat(node.nodes)
        else:
            out.append(node)
    return out


__all__ = ["Comp", "Layer", "Tree", "layer_of"]
