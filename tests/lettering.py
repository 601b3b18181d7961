"""Letters of a shipped face, as animations bring them along."""

from functools import cache
from importlib.resources import files
from io import BytesIO

from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont

FACE = "young-serif-latin-400-normal.woff2"


@cache
def face():
    return TTFont(BytesIO((files("deftarc") / "fonts" / "files" / FACE).read_bytes()))


class Pen(BasePen):
    """Gathers contours with the handles from each point."""

    def __init__(self, glyphs, scale):
        super().__init__(glyphs)
        self.scale, self.contours = scale, []

    def _at(self, spot):
        return [spot[0] * self.scale, -spot[1] * self.scale]

    def _moveTo(self, spot):  # noqa: N802
        self.contours.append({"v": [self._at(spot)], "i": [[0, 0]], "o": [[0, 0]], "c": True})

    def _lineTo(self, spot):  # noqa: N802
        told = self.contours[-1]
        told["v"].append(self._at(spot))
        told["i"].append([0, 0])
        told["o"].append([0, 0])

    def _curveToOne(self, first, second, spot):  # noqa: N802
        told = self.contours[-1]
        a, b, c = (self._at(each) for each in (first, second, spot))
        told["o"][-1] = [a[0] - told["v"][-1][0], a[1] - told["v"][-1][1]]
        told["v"].append(c)
        told["i"].append([b[0] - c[0], b[1] - c[1]])
        told["o"].append([0, 0])


def letter(sign):
    glyphs, name = face().getGlyphSet(), face().getBestCmap()[ord(sign)]
    scale = 100 / face()["head"].unitsPerEm
    pen = Pen(glyphs, scale)
    glyphs[name].draw(pen)
    shapes = [{"ty": "sh", "nm": sign, "ks": {"a": 0, "k": told}} for told in pen.contours]
    return {"ch": sign, "size": 50, "style": "Regular", "fFamily": "Young Serif", "w": glyphs[name].width * scale,
            "data": {"shapes": [{"ty": "gr", "nm": sign, "it": shapes}]} if shapes else {}}  # fmt: skip


def lettered(*documents, **layer):
    """An animation with a text that says one thing after the other: (frame, what it says) each."""
    signs = sorted({sign for _, said in documents for sign in said["t"] if sign not in "\r\n\x03"})
    plain = {"s": 40, "f": "YoungSerif", "j": 0, "tr": 0, "lh": 48, "ls": 0, "fc": [0.1, 0.2, 0.3]}
    rows = [{"t": frame, "s": {**plain, **said}} for frame, said in documents]
    font = {"fName": "YoungSerif", "fFamily": "Young Serif", "fStyle": "Regular", "ascent": 75, "origin": 0}
    moved = {
        "a": {"k": [0, 0, 0]},
        "p": {"k": [200, 90, 0]},
        "s": {"k": [100, 100, 100]},
        "r": {"k": 0},
        "o": {"k": 100},
    }
    text = {"d": {"k": rows}, "p": {}, "m": {"g": 1, "a": {"a": 0, "k": [0, 0]}}, "a": []}
    shown = {"ty": 5, "nm": "Words", "ind": 1, "ip": 0, "op": 50, "st": 0, "sr": 1, "ks": moved, "t": text, **layer}
    return {"v": "5.7.0", "fr": 25, "ip": 0, "op": 50, "w": 400, "h": 240, "assets": [], "layers": [shown],
            "fonts": {"list": [font]}, "chars": [letter(sign) for sign in signs]}  # fmt: skip
