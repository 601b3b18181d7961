"""What an SVG would come to, counted before anything of it is unfolded, matched or laid out.

A file of a few lines can stand for millions: by uses within uses, long runs of digits, or rules for every element.
"""

import re
from collections.abc import Iterator, Mapping
from xml.etree.ElementTree import Element

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal

XLINK = "{http://www.w3.org/1999/xlink}href"
#: Elements whose children are drawn only where something refers to them.
UNDRAWN = {
    "defs", "symbol", "clipPath", "mask", "pattern", "marker", "filter", "linearGradient", "radialGradient", "style",
    "title", "desc", "metadata", "text", "foreignObject",
}  # fmt: skip
#: Attributes that may be as long as they like: they are read once, from one end to the other.
LONG = {"d", "points", "style", "class"}
_DIGITS = re.compile(rf"[0-9]{{{limits.MAX_DIGITS + 1}}}")


def _local(element: Element) -> str:
    return element.tag.rpartition("}")[2] if isinstance(element.tag, str) else ""


def target_of(element: Element) -> str:
    """The id that a use or a gradient refers to."""
    return (element.get("href") or element.get(XLINK) or "").strip().lstrip("#")


def tidy(element: Element) -> None:
    """Refuses numbers of endless digits and words of endless length, and takes runs of blanks together."""
    for name, told in element.attrib.items():
        if len(told) <= limits.MAX_DIGITS:
            continue
        if _DIGITS.search(told):
            raise Refusal(f"This SVG has a number of more than {limits.MAX_DIGITS} digits. Export it with fewer.")
        if name in LONG or told.lstrip()[:5].lower() == "data:":
            continue
        short = " ".join(told.split())
        if len(short) > limits.MAX_SVG_WORD:
            raise Refusal(
                f"This SVG has a value of more than {limits.MAX_SVG_WORD:,} letters where a few do. Export it again."
            )
        element.attrib[name] = short


def check_sheets(sheets: list[str]) -> None:
    """Refuses style sheets that would take long to read."""
    if sum(map(len, sheets)) > limits.MAX_SVG_STYLES:
        raise Refusal("The style sheets of this SVG are too large. Export it with styles in attributes.")
    if any(_DIGITS.search(sheet) for sheet in sheets):
        raise Refusal(f"This SVG has a number of more than {limits.MAX_DIGITS} digits. Export it with fewer.")


def check_matching(rules: int, nodes: int) -> None:
    """Refuses more pairs of a rule and an element than can be tried in a moment."""
    if rules * nodes > limits.MAX_SVG_MATCHES:
        raise Refusal("This SVG has too many style rules for its many parts. Export it with styles in attributes.")


def check_unfolded(root: Element, ids: Mapping[str, Element]) -> None:
    """Refuses a file that would be too many parts, or too deep, once every use is put in its place."""
    count: dict[Element, int] = {}
    depth: dict[Element, int] = {}
    open_: set[Element] = set()
    stack: list[tuple[Element, Iterator[Element]]] = [(root, _inner(root, ids))]
    open_.add(root)
    while stack:
        element, rest = stack[-1]
        inner = next(rest, None)
        if inner is not None:
            if inner in open_:
                raise Refusal("This SVG uses parts of itself inside themselves without end. Flatten it and try again.")
            if inner not in count:
                open_.add(inner)
                stack.append((inner, _inner(inner, ids)))
            continue
        stack.pop()
        open_.discard(element)
        below = list(_inner(element, ids))
        count[element] = 1 + sum(count.get(each, 0) for each in below)
        depth[element] = 1 + max((depth.get(each, 0) for each in below), default=0)
        if count[element] > limits.MAX_SVG_NODES:
            raise Refusal(f"This SVG draws more than {limits.MAX_SVG_NODES:,} parts once unfolded. Simplify it.")
        if depth[element] > limits.MAX_UNFOLDED_DEPTH:
            raise Refusal(
                f"This SVG is nested more than {limits.MAX_UNFOLDED_DEPTH} deep once unfolded. Flatten it first."
            )


def _inner(element: Element, ids: Mapping[str, Element]) -> Iterator[Element]:
    """What is drawn within an element: its children, or what it uses. A symbol is come to by a use alone."""
    if _local(element) == "use":
        target = ids.get(target_of(element))
        if target is not None:
            yield target
    else:
        for child in element:
            if _local(child) and _local(child) not in UNDRAWN:
                yield child
