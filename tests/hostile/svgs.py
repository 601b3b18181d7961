"""Hostile SVGs by name."""

from functools import cache

HEAD = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 100 100" '
    'width="100" height="100">'
)
RECT = '<rect width="3" height="4"/>'
NUMBERS = ["1e999", "-1e999", "nan", "inf", "-0", "1e308", "1e-320", "9" * 399, "9" * 5_000, "1" * 300_000, "0." + "1" * 90_000, "1e" + "9" * 500, "--1", "+", ".", "1e", "0x10", "١", "1_000", "1,5", " " * 200_000 + "1",
           "1" + " " * 200_000 + "x", "1e5%", "-5%", "1e7", "10000001"]  # fmt: skip
PLACES = {
    "width": '<rect width="{}" height="4"/>', "x": '<rect x="{}" width="3" height="4"/>', "r": '<circle r="{}"/>',
    "rx": '<rect width="3" height="4" rx="{}"/>', "stroke-width": '<path d="M0 0L9 9" stroke="red" stroke-width="{}"/>',
    "dash": '<path d="M0 0L9 9" stroke="red" stroke-dasharray="{}"/>', "opacity": '<g opacity="{}">' + RECT + "</g>",
    "offset": '<linearGradient id="g"><stop offset="{}"/><stop offset="1" stop-color="red"/></linearGradient><rect width="3" height="4" fill="url(#g)"/>',
    "font-size": '<g font-size="{}"><rect width="1em" height="1em"/></g>', "rotate": '<g transform="rotate({})">' + RECT + "</g>",
    "scale": '<g transform="scale({})">' + RECT + "</g>", "matrix": '<g transform="matrix(1 0 0 1 {} 0)">' + RECT + "</g>",
    "path": '<path d="M0 0L{} 9"/>', "arc": '<path d="M0 0A{} 5 0 0 1 9 9"/>', "points": '<polygon points="0 0 9 9 {} 4"/>',
    "rgb": '<rect width="3" height="4" fill="rgb({},0,0)"/>', "gradient": '<linearGradient id="g" x1="{}" gradientUnits="userSpaceOnUse"><stop/><stop offset="1" stop-color="red"/></linearGradient><rect width="3" height="4" fill="url(#g)"/>',
    "miter": '<path d="M0 0L9 9L3 0" stroke="red" stroke-miterlimit="{}"/>',
}  # fmt: skip
TEXTS = {
    "url spaces": '<rect width="3" height="4" fill="url(' + " " * 300_000 + '#x"/>',
    "url opens": '<rect width="3" height="4" fill="' + "url(" * 60_000 + '"/>',
    "rgb opens": '<rect width="3" height="4" fill="' + "rgb(" * 60_000 + '"/>',
    "rgb digits": '<rect width="3" height="4" fill="rgb(' + "1" * 300_000 + '"/>',
    "style spaces": '<rect width="3" height="4" style="fill:' + " " * 300_000 + 'url("/>',
    "style rows": '<rect width="3" height="4" style="' + "fill:red;" * 60_000 + '"/>',
    "style brackets": '<rect width="3" height="4" style="fill:' + "(" * 50_000 + '"/>',
    "transform brackets": '<g transform="' + "rotate(" * 40_000 + '">' + RECT + "</g>",
    "transform list": '<g transform="' + "rotate(1) " * 40_000 + '">' + RECT + "</g>",
    "transform broken": '<g transform="rotate(1 2) scale() skewX(a) matrix(1 2 3)">' + RECT + "</g>",
    "transform flat": '<g transform="scale(0)">' + RECT + "</g>",
    "transform skewed up": '<g transform="skewX(90)">' + RECT + "</g>",
    "var loops": '<rect width="3" height="4" style="--a:var(--b);--b:var(--a);fill:var(--a)"/>',
    "var doubles": '<rect width="3" height="4" style="' + ";".join(f"--a{k}:var(--a{k + 1}) var(--a{k + 1})" for k in range(24)) + ';--a24:red;fill:var(--a0)"/>',
    "viewbox huge": '<svg viewBox="0 0 1e300 1e-300">' + RECT + "</svg>",
    "viewbox none": '<svg viewBox="0 0 0 0">' + RECT + "</svg>",
    "many ids": "".join(f'<rect id="r{k}" width="3" height="4"/>' for k in range(3_000)),
    "too many parts": RECT * 40_000,
    "deep": "<g>" * 59 + RECT + "</g>" * 59,
    "too deep": "<g>" * 3_000 + RECT + "</g>" * 3_000,
    "many arcs": '<path d="M0 0' + "a5 5 0 0 1 9 9a5 5 0 1 0 1 1" * 60_000 + '"/>',
    "many curves": '<path d="M0 0' + "c1 2 3 4 5 6" * 30_000 + '"/>',
    "many lines": '<path d="M0 0' + "l1 2" * 260_000 + '"/>',
    "many moves": '<path d="' + "M0 0" * 260_000 + '"/>',
    "path commas": '<path d="M0 0' + "," * 400_000 + '"/>',
    "path blanks": '<path d="M0 0' + " " * 900_000 + 'L9 9"/>',
    "path letters": '<path d="' + "MZ" * 400_000 + '"/>',
    "polygon long": '<polygon points="' + "1 2 " * 260_000 + '"/>',
    "arcs of no size": '<path d="M0 0' + "a0 0 0 0 1 0 0" * 30_000 + '"/>',
    "arc far": '<path d="M0 0A1e-300 1e300 45 1 1 1e7 1e-7"/>',
    "use of itself": '<use id="u" href="#u"/>',
    "uses in a ring": '<g id="a"><use href="#b"/></g><g id="b"><use href="#a"/></g>',
    "use of its parent": '<g id="a"><use href="#a"/></g>',
    "long chain of uses": "<defs>" + "".join(f'<g id="n{k}"><use href="#n{k + 1}"/></g>' for k in range(3_000)) + '<g id="n3000"/></defs><use href="#n0"/>',
    "rules": "<style>" + "".join(f".a{k} g > rect.b{k}:nth-child(2n+{k}) {{fill:red}}" for k in range(3_000)) + "</style>" + '<rect class="a1 b2" width="3" height="4"/>' * 4_000,
    "universal rules": "<style>" + "".join(f"* * * *{{fill:#{k:06x}}}" for k in range(900)) + "</style>" + "<g>" * 40 + RECT * 900 + "</g>" * 40,
    "long selector": "<style>" + "g " * 9_000 + "{fill:red}</style>" + RECT,
    "not in not": "<style>" + ":not(" * 2_000 + "g" + ")" * 2_000 + "{fill:red}</style>" + RECT,
    "huge sheet": "<style>" + "/*x*/" * 400_000 + "</style>" + RECT,
    "sheet brackets": "<style>" + "{" * 40_000 + "</style>" + RECT,
    "stops on shapes": '<linearGradient id="g">' + "".join(f'<stop offset="{k / 255}" stop-color="#{k:02x}1122"/>' for k in range(255)) + "</linearGradient>" + '<rect width="3" height="4" fill="url(#g)"/>' * 4_000,
    "stops without end": '<linearGradient id="g">' + '<stop offset="0" stop-color="red"/>' * 9_000 + '</linearGradient><rect width="3" height="4" fill="url(#g)"/>',
    "gradient ring": '<linearGradient id="a" href="#b"/><linearGradient id="b" href="#a"/><rect width="3" height="4" fill="url(#a)"/>',
    "clips on clips": "".join(f'<clipPath id="c{k}" clip-path="url(#c{k + 1})">{RECT}</clipPath>' for k in range(60)) + '<rect width="3" height="4" clip-path="url(#c0)"/>',
    "clip of itself": '<clipPath id="c" clip-path="url(#c)">' + RECT + '</clipPath><rect width="3" height="4" clip-path="url(#c)"/>',
    "many clips": '<clipPath id="c">' + '<circle r="9" cx="4"/>' * 400 + "</clipPath>" + '<rect width="3" height="4" clip-path="url(#c)"/>' * 400,
    "clip of many points": '<clipPath id="c"><path d="M0 0' + "l9 5l-9 4" * 20_000 + '"/></clipPath><rect width="3" height="4" clip-path="url(#c)"/>',
    "many masks": '<mask id="m">' + '<circle r="9" fill="white"/>' * 300 + "</mask>" + '<rect width="3" height="4" mask="url(#m)"/>' * 300,
    "mask uses itself": '<mask id="m"><use href="#u"/></mask><g id="u"><use href="#u"/></g><rect width="3" height="4" mask="url(#m)"/>',
    "dashes": '<path d="M0 0L9e6 9" stroke="red" stroke-dasharray="' + "1e-9 " * 3_000 + '"/>',
    "names": "".join(f"<a{k}/>" for k in range(9_000)) + RECT,
    "attributes": "<rect " + " ".join(f'a{k}="1"' for k in range(50_000)) + ' width="3" height="4"/>',
    "long name": "<" + "g" * 900_000 + "/>" + RECT,
    "long id": '<g id="' + "i" * 900_000 + '">' + RECT + "</g>",
    "namespaces": "<g " + " ".join(f'xmlns:n{k}="u{k}"' for k in range(9_000)) + ">" + RECT + "</g>",
    "script": "<script>alert(1)</script>", "handler": '<rect onload="x()" width="3" height="4"/>',
    "outside": '<image href="http://quillhaven.example/a.png"/>', "outside style": '<rect width="3" height="4" style="fill:url(http://a)"/>',
    "import": "<style>@import 'a.css';</style>" + RECT, "foreign": "<foreignObject><b/></foreignObject>",
    "colours": '<rect width="3" height="4" fill="color(display-p3 1e99 nan none)"/>' + '<rect width="3" height="4" fill="oklch(1e400% 1e9 1e9)"/>' * 50,
    "preserve": '<svg viewBox="0 0 9 9" width="9" height="9" preserveAspectRatio="' + "x" * 3_000 + '">' + RECT + "</svg>",
    "path length": '<path d="M0 0L9 9" pathLength="1e-320" stroke="red" stroke-dasharray="1 2"/>',
    "switch": "<switch>" * 50 + RECT + "</switch>" * 50,
    "symbols": '<symbol id="s" viewBox="0 0 1e-9 1e-9">' + RECT + '</symbol><use href="#s" width="1e7" height="1e7"/>',
    "em of em": '<g font-size="1000em">' * 50 + '<rect width="1em" height="1em"/>' + "</g>" * 50,
    "flat inverse": '<clipPath id="c" clipPathUnits="objectBoundingBox">' + RECT + '</clipPath><g transform="matrix(0 0 0 0 0 0)"><rect width="3" height="4" clip-path="url(#c)"/></g>',
}  # fmt: skip


def nested_uses(width, depth, drawn):
    rows = "".join(f'<g id="n{k}">' + f'<use href="#n{k + 1}"/>' * width + "</g>" for k in range(depth))
    return f'<defs>{rows}<g id="n{depth}">{RECT if drawn else ""}</g></defs><use href="#n0"/>'


def whole(inner):
    return f"{HEAD}{inner}</svg>".encode()


@cache
def files():
    out = {
        f"{place} {n}": whole(told.format(number))
        for place, told in PLACES.items()
        for n, number in enumerate(NUMBERS)
        if (len(place) + n) % 3 == 0
    }
    out |= {name: whole(told) for name, told in TEXTS.items()}
    for width, depth, drawn in ((10, 12, False), (10, 12, True), (2, 60, False), (100, 3, False), (3, 9, True)):
        out[f"uses {width} {depth} {drawn}"] = whole(nested_uses(width, depth, drawn))
    plain = whole(RECT)
    out["entities"] = b'<!DOCTYPE svg [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]>' + plain.replace(
        b"<rect", b"&b;<rect"
    )
    out["outside entity"] = b'<!DOCTYPE svg [<!ENTITY a SYSTEM "file:///etc/passwd">]>' + plain
    out["cut short"] = plain[:-9]
    out["other encoding"] = '<?xml version="1.0" encoding="utf-16"?>'.encode("utf-16") + plain.decode().encode(
        "utf-16-le"
    )
    out["unknown encoding"] = b'<?xml version="1.0" encoding="wave"?>' + plain
    out["nulls"] = plain.replace(b" width", b"\0width")
    out["not utf-8"] = plain.replace(b"rect", b"r\xffct")
    out["only a head"] = b"<?xml version='1.0'?>"
    out["another root"] = b"<html><svg/></html>"
    return out
