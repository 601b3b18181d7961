"""A font of the ferry line's own: signal letters of square lights, five by five, made here."""

from functools import lru_cache
from io import BytesIO

from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen

#: Five rows of five lights each, from the top; a dot is dark.
LIGHTS = {
    "A": ".###. #...# ##### #...# #...#", "B": "####. #...# ####. #...# ####.", "C": ".#### #.... #.... #.... .####",
    "E": "##### #.... ####. #.... #####", "H": "#...# #...# ##### #...# #...#", "I": ".###. ..#.. ..#.. ..#.. .###.",
    "L": "#.... #.... #.... #.... #####", "N": "#...# ##..# #.#.# #..## #...#", "O": ".###. #...# #...# #...# .###.",
    "Q": ".###. #...# #.#.# #..#. .##.#", "R": "####. #...# ####. #..#. #...#", "S": ".#### #.... .###. ....# ####.",
    "T": "##### ..#.. ..#.. ..#.. ..#..", "U": "#...# #...# #...# #...# .###.", "V": "#...# #...# #...# .#.#. ..#..",
    "W": "#...# #...# #.#.# ##.## #...#", "Y": "#...# .#.#. ..#.. ..#.. ..#..", "7": "##### ...#. ..#.. .#... .#...",
}  # fmt: skip
#: Units of the em a light is apart from the next, and wide.
STEP, LIGHT = 140, 112


def _lit(rows: list[str]) -> object:
    pen = TTGlyphPen(None)
    for down, row in enumerate(rows):
        for across, light in enumerate(row):
            if light == "#":
                x, y = across * STEP, (4 - down) * STEP
                pen.moveTo((x, y))
                for corner in ((x, y + LIGHT), (x + LIGHT, y + LIGHT), (x + LIGHT, y)):
                    pen.lineTo(corner)
                pen.closePath()
    return pen.glyph()


@lru_cache(maxsize=1)
def signal_font() -> bytes:
    """The font as TrueType."""
    names = [".notdef", "space", *(f"light{letter}" for letter in LIGHTS)]
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({32: "space", **{ord(letter): f"light{letter}" for letter in LIGHTS}})
    dark = TTGlyphPen(None).glyph()
    builder.setupGlyf({".notdef": dark, "space": dark} | {f"light{n}": _lit(r.split()) for n, r in LIGHTS.items()})
    builder.setupHorizontalMetrics(dict.fromkeys(names, (5 * STEP + 60, 0)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": "Quillhaven Signal", "styleName": "Regular", "fullName": "Quillhaven Signal"})
    builder.setupOS2(sTypoAscender=800, sTypoDescender=-200)
    builder.setupPost()
    # The same bytes each time: a project's assets are named by their hash.
    builder.updateHead(created=3_800_000_000, modified=3_800_000_000)
    builder.font.recalcTimestamp = False
    out = BytesIO()
    builder.save(out)
    return out.getvalue()
