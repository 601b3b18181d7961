"""Layers of a Lottie composition as layers of a scene."""

import base64
import binascii
from dataclasses import dataclass, field, replace
from typing import Any

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal
from deftarc.core.document import Layer
from deftarc.core.document.artwork import Artwork, Carrier, Contour, FreePath
from deftarc.core.document.artwork.scene import SceneShown
from deftarc.core.document.artwork.text import Text
from deftarc.core.document.blend import BLENDS
from deftarc.core.document.masks import Mask
from deftarc.core.document.matte import Matte
from deftarc.core.document.track import AnyTrack, NumberTrack
from deftarc.core.spaces.colour import hex_colour
from deftarc.formats.read.base import Asset
from deftarc.formats.read.lottie.keys import Clocked, list_of, number_of, row_of, text_of
from deftarc.formats.read.lottie.letters import Letters, Words
from deftarc.formats.read.lottie.outlines import path, put_together
from deftarc.formats.read.lottie.shapes import Bunch, Drawn, drawn_of
from deftarc.formats.read.lottie.source import Notes, Told
from deftarc.formats.read.lottie.transforms import Moved, moved
from deftarc.formats.read.picture import read_picture

BLEND = dict(enumerate(BLENDS))
KINDS = {6: "sounds", 13: "cameras", 9: "movies", 8: "pictures in turn", 15: "layers of other programs"}
MODES = {"a": "add", "s": "subtract", "i": "intersect"}
#: tt: by what, and whether turned round.
MATTES = {1: ("alpha", False), 2: ("alpha", True), 3: ("luma", False), 4: ("luma", True)}


@dataclass
class Shared:
    """What all compositions of a file share."""

    notes: Notes
    #: Assets by their ids, and files that lie beside it.
    assets: dict[str, Told]
    beside: dict[str, bytes]
    #: The ids that compositions get as scenes, with their sizes.
    scenes: dict[str, tuple[str, float, float]]
    #: What a file has of letters, and of faces.
    lettering: Told = field(default_factory=dict)
    found: dict[str, Asset] = field(default_factory=dict)


class Composition:
    """Makes layers of one composition, which lasts from its first frame up to its end, in flicks."""

    def __init__(self, rows: list[Any], clocked: Clocked, length: int, shared: Shared) -> None:
        self.rows = [each for each in rows if isinstance(each, dict)]
        self.clocked, self.length, self.shared, self.notes = clocked, length, shared, shared.notes
        self.letters = Letters(shared.lettering, clocked)
        self.ids: dict[int, str] = {}
        self.out: list[Layer] = []
        for k, each in enumerate(self.rows):
            if isinstance(each.get("ind"), int):
                self.ids.setdefault(each["ind"], f"l{k}")

    def layers(self) -> tuple[Layer, ...]:
        parents = self._parents()
        mattes = self._mattes()
        for k, told in enumerate(self.rows):
            self._layer(k, told, parents.get(k), mattes)
            if len(self.out) > limits.MAX_LAYERS:
                raise Refusal(f"This animation has more than {limits.MAX_LAYERS:,} layers in one picture.")
        known = {each.id for each in self.out}
        seen = {each.id for each in self.out if not each.artwork.empty or each.group}
        return tuple(
            each.changed(
                parent=each.parent if each.parent in known else None,
                matte=each.matte if each.matte is not None and each.matte.layer in seen else None,
            )
            for each in self.out
        )

    def _parents(self) -> dict[int, str]:
        """Each layer's carrier, without rings."""
        by_number = {each["ind"]: k for k, each in enumerate(self.rows) if isinstance(each.get("ind"), int)}
        above = {
            k: by_number[each["parent"]] for k, each in enumerate(self.rows)
            if isinstance(each.get("parent"), int) and by_number.get(each["parent"], k) != k
        }  # fmt: skip
        out = {}
        for k in list(above):
            chain, at = {k}, above.get(k)
            while at is not None and at not in chain:
                chain.add(at)
                at = above.get(at)
            if at is not None:
                self.notes.add("Layers that carry each other in a circle are carried by none")
                del above[k]
                continue
            out[k] = f"l{above[k]}"
        return out

    def _mattes(self) -> dict[int, int]:
        """Through which row each row shows."""
        by_number = {each["ind"]: k for k, each in enumerate(self.rows) if isinstance(each.get("ind"), int)}
        out = {}
        for k, each in enumerate(self.rows):
            if each.get("tt") not in MATTES:
                continue
            source = by_number.get(each["tp"]) if isinstance(each.get("tp"), int) else k - 1
            if source is not None and 0 <= source != k:
                out[k] = source
        return out

    # --- one layer ---

    def _layer(self, k: int, told: Told, parent: str | None, mattes: dict[int, int]) -> None:
        kind = told.get("ty")
        name = self._name(told, k)
        if kind in KINDS:
            self.notes.add(f"“{name}” is left out: {KINDS[kind]} are not read")
        if told.get("ef"):
            self.notes.add("Effects are left out")
        if told.get("sy"):
            self.notes.add("Styles of layers are left out")
        if told.get("ddd"):
            self.notes.add("Depth is left out")
        looks = self._looks(k, told, mattes)
        shift = self._middle(told, kind)
        move = moved(told.get("ks"), self.clocked, self.notes, shift)
        if told.get("ao") and "position" in move.tracks:
            move.tracks["along"] = NumberTrack(value=1.0)
        looks |= self._masks(told, shift, move)
        fields = {"id": f"l{k}", "name": name, "parent": parent, **self._span(told), **looks}
        if kind == 4:
            self._shapes(told, fields, move, f"l{k}")
            return
        if kind == 5 and (words := self._words(told, name)) is not None:
            self._said(words, fields, move, f"l{k}")
            return
        artwork, extra = self._artwork(told, kind, name)
        if extra:
            # Its clock is that of what it shows, and not of how it is moved.
            self._add({**fields, "artwork": Carrier(group=True, as_one=_together(fields, move))}, move)
            inner = {**self._span(told), "id": f"l{k}c", "name": name, "parent": f"l{k}", "artwork": artwork}
            self._add(inner, Moved(tracks=extra))
            return
        self._add({**fields, "artwork": artwork}, move)

    def _add(self, fields: dict[str, Any], move: Moved) -> None:
        self.out.append(Layer(**{**fields, **move.fields}, tracks=move.tracks))

    @staticmethod
    def _name(told: Told, k: int) -> str:
        return text_of(told.get("nm"), limits.MAX_NAME) or f"Layer {k + 1}"

    def _span(self, told: Told) -> dict[str, Any]:
        start = self.clocked.time(told.get("ip", self.clocked.first))
        end = self.clocked.time(told["op"]) if "op" in told else self.length
        if told.get("ty") == 0:
            start = max(start, self.clocked.time(told.get("st", self.clocked.first)))
        start = max(-limits.FURTHEST, min(start, limits.FURTHEST - 1))
        out: dict[str, Any] = {"start": start if start > 0 else 0}
        if end < self.length or end <= start:
            out["end"] = max(end, out["start"] + 1)
        if end <= 0 or end <= start or told.get("hd"):
            out["hidden"] = True
            out.pop("end", None)
        return out

    def _looks(self, k: int, told: Told, mattes: dict[int, int]) -> dict[str, Any]:
        out: dict[str, Any] = {}
        mode = told.get("bm", 0)
        if mode in BLEND:
            out["blend"] = BLEND[mode]
        elif mode:
            self.notes.add("A way of blending that is not known here is plain")
        if k in mattes:
            by, inverted = MATTES[told["tt"]]
            out["matte"] = Matte(layer=f"l{mattes[k]}", by=by, inverted=inverted)
        if told.get("td") or (k in mattes.values() and not told.get("tt")):
            out["hidden"] = True
        return out

    def _masks(self, told: Told, shift: tuple[float, float], move: Moved) -> dict[str, Any]:
        out: list[Mask] = []
        for n, each in enumerate(list_of(told.get("masksProperties"))):
            if not isinstance(each, dict) or each.get("mode") in ("n", None):
                continue
            mode = MODES.get(each["mode"])
            if mode is None:
                self.notes.add("Masks that lighten, darken or differ add to others")
                mode = "add"
            sources = path({"ks": each.get("pt")}, self.clocked)
            if not sources or len(out) >= limits.MAX_MASKS:
                continue
            sources = [_shifted(one, shift) for one in sources]
            contours, outline = put_together(sources, self.clocked)
            contours = tuple(contour.changed(closed=True) for contour in contours)
            tracks: dict[str, AnyTrack] = {} if outline is None else {"mask_outline": outline}
            share = self.clocked.number(each.get("o"), 0, 0.01, 100.0, low=0.0, high=1.0)
            grow = self.clocked.number(each.get("x"))
            # What its feather is told in is twice the standard deviation, to both sides.
            feather = self.clocked.number(each.get("f"), 0, 0.5, low=0.0, high=1_000.0)
            for name, track in (("mask_opacity", share), ("mask_grow", grow), ("mask_feather", feather)):
                if track.keys:
                    tracks[name] = track
            mask = Mask(id=f"m{n}", contours=contours, mode=mode, inverted=bool(each.get("inv")),
                        opacity=share.value, grow=grow.value, feather=feather.value)  # fmt: skip
            out.append(mask)
            move.tracks |= {f"mask/m{n}/{name}": track for name, track in tracks.items()}
        return {"masks": tuple(out)} if out else {}

    def _middle(self, told: Told, kind: Any) -> tuple[float, float]:
        """Where the origin of its artwork lies in the px of the file: those of pictures and scenes is their middle."""
        if kind == 0:
            return number_of(told.get("w")) / 2, number_of(told.get("h")) / 2
        if kind == 2:
            asset = self.shared.assets.get(str(told.get("refId")), {})
            return number_of(asset.get("w")) / 2, number_of(asset.get("h")) / 2
        return 0.0, 0.0

    # --- what it shows ---

    def _artwork(self, told: Told, kind: Any, name: str) -> tuple[Artwork, dict[str, AnyTrack]]:
        if kind == 0:
            return self._scene(told, name)
        if kind == 1:
            return self._solid(told), {}
        if kind == 2:
            return self._picture(told, name), {}
        if kind == 5:
            return self._text(told, name), {}
        return Carrier(), {}

    def _scene(self, told: Told, name: str) -> tuple[Artwork, dict[str, AnyTrack]]:
        known = self.shared.scenes.get(str(told.get("refId")))
        if known is None:
            self.notes.add(f"“{name}” shows a composition that is not in the file")
            return Carrier(), {}
        scene, width, height = known
        stretch = number_of(told.get("sr"), 1.0) or 1.0
        rate = max(-100.0, min(100.0, 1 / stretch))
        begins = round(
            (max(0, self._span(told)["start"]) - self.clocked.time(told.get("st", self.clocked.first))) * rate
        )
        art = SceneShown(scene=scene, width=width, height=height, begins=begins, rate=rate, goes_on="once")
        if not isinstance(told.get("tm"), dict):
            return art, {}
        return art, {"clock": self.clocked.number(told["tm"])}

    def _solid(self, told: Told) -> Artwork:
        width, height = (max(0.01, number_of(told.get(name), 1.0)) for name in ("sw", "sh"))
        colour = told.get("sc")
        fill = colour if isinstance(colour, str) and len(colour) == 7 and colour.startswith("#") else "#000000"
        points = tuple(
            (x, y, 0.0, 0.0, 0.0, 0.0) for x, y in ((0.0, 0.0), (width, 0.0), (width, height), (0.0, height))
        )
        return FreePath(contours=(Contour(points=points, closed=True),), fill=fill)

    def _picture(self, told: Told, name: str) -> Artwork:
        asset = self.shared.assets.get(str(told.get("refId")), {})
        data = self._bytes(asset)
        if data is None:
            self.notes.add(f"“{name}” is left out: its picture is not in the file")
            return Carrier()
        try:
            brought = read_picture(data)
        except Refusal:
            self.notes.add(f"“{name}” is left out: its picture cannot be read")
            return Carrier()
        for each in brought.assets:
            self.shared.found[each.hash] = each
        width, height = (number_of(asset.get(key)) for key in ("w", "h"))
        return brought.artwork.changed(width=width, height=height) if width > 0 and height > 0 else brought.artwork

    def _bytes(self, asset: Told) -> bytes | None:
        where = asset.get("p")
        if not isinstance(where, str):
            return None
        if where.startswith("data:"):
            try:
                return base64.b64decode(where.partition(",")[2], validate=False)
            except (binascii.Error, ValueError):
                return None
        folder = asset.get("u") if isinstance(asset.get("u"), str) else ""
        names = (f"{folder}{where}".lstrip("/"), where, f"i/{where}", f"images/{where}")
        return next((self.shared.beside[each] for each in names if each in self.shared.beside), None)

    def _documents(self, told: Told) -> list[Any]:
        """What a text says, from which frame on."""
        inside = told.get("t")
        document = inside.get("d") if isinstance(inside, dict) else None
        return list_of(document.get("k")) if isinstance(document, dict) else []

    def _words(self, told: Told, name: str) -> list[Words] | None:
        """A text as outlines; None where the file has not all of its letters."""
        inside = told.get("t")
        if isinstance(inside, dict) and inside.get("a"):
            self.notes.add(f"“{name}” moves as a whole: what moves its letters by themselves is left out")
        if isinstance(inside, dict) and isinstance(inside.get("p"), dict) and inside["p"].get("m") is not None:
            self.notes.add(f"“{name}” stands straight: texts along paths are not read")
        return self.letters.words(self._documents(told))

    def _said(self, words: list[Words], fields: dict[str, Any], move: Moved, prefix: str) -> None:
        """A layer for what a text says, and one for each part of it where it is long, or says one thing and another."""
        if len(words) == 1 and len(words[0].paths) == 1:
            self._add({**fields, "artwork": words[0].paths[0]}, move)
            return
        self._add({**fields, "artwork": Carrier(group=True, as_one=_together(fields, move))}, move)
        first, last = fields.get("start", 0), fields.get("end")
        for n, each in enumerate(words):
            start = max(first, each.time) if n else first
            end = words[n + 1].time if n + 1 < len(words) else last
            if end is not None and end <= start:
                continue
            span = {"start": start, **({} if end is None else {"end": end})}
            for m, path_ in enumerate(each.paths):
                title = f"{fields['name'][: limits.MAX_NAME - 12]} {n + m + 1}"
                inner = {"id": f"{prefix}w{n}x{m}", "name": title, "parent": prefix, **span, "artwork": path_}
                self._add(inner, Moved())

    def _text(self, told: Told, name: str) -> Artwork:
        rows = self._documents(told)
        if len(rows) > 1:
            self.notes.add(f"“{name}” says what it says first: its other words are left out")
        said = rows[0].get("s") if rows and isinstance(rows[0], dict) else None
        if not isinstance(said, dict) or not isinstance(said.get("t"), str) or not said["t"].strip():
            return Carrier()
        self.notes.add(f"“{name}” is set in a face that is shipped")
        words = said["t"].replace("\r", "\n").replace("\x03", "\n")[: limits.MAX_TEXT]
        align = {1: "end", 2: "middle"}.get(said.get("j", 0), "start")
        size = min(5_000.0, max(1.0, number_of(said.get("s"), 24.0)))
        return Text(text=words, align=align, size=size, fill=hex_colour((*row_of(said.get("fc"), 3), 1.0)))

    # --- shapes ---

    def _shapes(self, told: Told, fields: dict[str, Any], move: Moved, prefix: str) -> None:
        things = drawn_of(told.get("shapes"), self.clocked, self.notes)
        only = _only(things)
        if only is not None:
            self._add({**fields, "artwork": only.artwork}, Moved({**only.tracks, **move.tracks}, move.fields))
            return
        one = _together(fields, move)
        self._add({**fields, "artwork": Carrier(group=True, as_one=one)}, move)
        span: dict[str, Any] = {key: fields[key] for key in ("start", "end") if key in fields}
        self._inside(things, prefix, prefix, span)

    def _inside(self, things: "list[Drawn | Bunch]", parent: str, prefix: str, span: dict[str, Any]) -> None:
        for n, each in enumerate(things):
            name = f"{prefix}x{n}"
            if len(name) > 24:
                raise Refusal("This file is nested deeper than Deft Arc reads. Flatten it, and save it again.")
            title = each.name or f"Shape {n + 1}"
            fields = {"id": name, "name": title, "parent": parent, **span}
            if isinstance(each, Drawn):
                self._add({**fields, "artwork": each.artwork}, Moved(dict(each.tracks)))
                continue
            move = moved(each.transform, self.clocked, self.notes)
            only = _only(each.children)
            if only is not None:
                self._add({**fields, "artwork": only.artwork}, Moved({**only.tracks, **move.tracks}, move.fields))
                continue
            if move.idle:
                self._inside(each.children, parent, name, span)
                continue
            carrier = {**fields, "artwork": Carrier(group=True), "hands_opacity": move.dims}
            self._add(carrier, move)
            self._inside(each.children, name, name, span)


def _together(fields: dict[str, Any], move: Moved) -> bool:
    """Whether what a layer carries has to be put together before it is laid on."""
    looks = fields.get("blend", "normal") != "normal" or fields.get("masks") or fields.get("matte") is not None
    return bool(looks or move.dims or fields.get("hidden"))


def _only(things: "list[Drawn | Bunch]") -> Drawn | None:
    """The one thing drawn, where nothing else is and nothing moves it."""
    if len(things) != 1:
        return None
    (one,) = things
    if isinstance(one, Drawn):
        return one
    still = one.transform is None or moved(one.transform, Clocked(1, 0.0, Notes()), Notes()).idle
    return _only(one.children) if still else None


def _shifted(source: Any, shift: tuple[float, float]) -> Any:
    if not any(shift):
        return source
    rows = tuple([[x - shift[0], y - shift[1], *arms] for x, y, *arms in row] for row in source.rows)
    return replace(source, rows=rows)


__all__ = ["Composition", "Shared"]
