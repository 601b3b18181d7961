"""The computed style of SVG elements: presentation attributes, style sheets and the style attribute, in that order.

A declaration whose value its property does not take is passed over, as CSS says, and the one before it holds;
``var()`` is put in; what is inherited comes from the parent's computed style.
"""

import re
from collections.abc import Callable, Iterator
from functools import lru_cache
from typing import Any
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2

from deftarc.formats.read.svg.colour import parsed
from deftarc.formats.read.svg.shapes import UNITS

#: Properties that pass from an element to what it contains, with their initial values.
INHERITED = {
    "fill": "black", "fill-opacity": "1", "fill-rule": "nonzero", "stroke": "none", "stroke-opacity": "1",
    "stroke-width": "1", "stroke-linecap": "butt", "stroke-linejoin": "miter", "stroke-miterlimit": "4",
    "stroke-dasharray": "none", "stroke-dashoffset": "0", "color": "black", "visibility": "visible",
    "paint-order": "normal", "clip-rule": "nonzero", "color-interpolation": "srgb", "font-size": "16",
}  # fmt: skip
OWN = {
    "opacity": "1", "display": "inline", "stop-color": "black", "stop-opacity": "1", "vector-effect": "none",
    "transform": "none", "transform-origin": "", "transform-box": "view-box", "overflow": "", "clip-path": "none",
    "mask": "none", "translate": "none", "rotate": "none", "scale": "none",
}  # fmt: skip
#: Sizes and places may be written as CSS, too.
GEOMETRY = ("x", "y", "width", "height", "cx", "cy", "r", "rx", "ry", "d")
#: Properties that change the picture and are not followed: said to the user when they are used.
UNSUPPORTED = {
    "filter": "filters",
    "mix-blend-mode": "blend modes",
    "marker-start": "markers",
    "marker-mid": "markers",
    "marker-end": "markers",
    "marker": "markers",
}
KNOWN = INHERITED.keys() | OWN.keys() | UNSUPPORTED.keys() | set(GEOMETRY)
Style = dict[str, str]

_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
_SHARE = re.compile(rf"^{_NUMBER}%?$")
_LENGTH = re.compile(rf"^{_NUMBER}([a-z%]*)$", re.IGNORECASE)


def _is_length(value: str) -> bool:
    found = _LENGTH.match(value)
    return bool(found) and (found[1].lower() in UNITS or found[1] == "%")  # type: ignore[index]


def _is_paint(value: str) -> bool:
    low = value.lower()
    if low in ("none", "context-fill", "context-stroke") or low.startswith("url("):
        return True
    return parsed(value) is not None


def _one_of(*words: str) -> Callable[[str], bool]:
    return lambda value: value.lower() in words


#: What a property takes; those not listed take anything.
TAKES: dict[str, Callable[[str], bool]] = {
    "fill": _is_paint, "stroke": _is_paint,
    "color": lambda value: parsed(value) is not None, "stop-color": lambda value: parsed(value) is not None,
    **dict.fromkeys(("opacity", "fill-opacity", "stroke-opacity", "stop-opacity", "stroke-miterlimit"),
                    lambda value: bool(_SHARE.match(value))),
    **dict.fromkeys(("stroke-width", "stroke-dashoffset"), _is_length),
    **dict.fromkeys(("fill-rule", "clip-rule"), _one_of("nonzero", "evenodd")),
    "stroke-linecap": _one_of("butt", "round", "square"),
    "stroke-linejoin": _one_of("miter", "round", "bevel", "arcs", "miter-clip"),
    "visibility": _one_of("visible", "hidden", "collapse"),
    "stroke-dasharray": lambda value: value.lower() == "none" or all(_is_length(p) for p in re.split(r"[\s,]+", value)),
}  # fmt: skip


#: Words of a selector; a longer one is passed over.
LONGEST_SELECTOR = 400


class StyleSheet:
    """The rules of all <style> elements of a file, matched by cssselect2."""

    def __init__(self, texts: list[str]) -> None:
        self.matcher = cssselect2.Matcher()
        #: Kinds of rules that were passed over, for the user.
        self.skipped: set[str] = set()
        self.rules = 0
        for text in texts:
            for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
                self._add(rule)

    def _add(self, rule: Any) -> None:
        if rule.type == "at-rule":
            self.skipped.add(f"@{rule.lower_at_keyword} rules in style sheets")
            return
        if rule.type != "qualified-rule":
            return
        if len(rule.prelude) > LONGEST_SELECTOR:
            self.skipped.add("some selectors of style sheets")
            return
        declarations = list(_declarations(rule.content))
        try:
            selectors = cssselect2.compile_selector_list(rule.prelude)
        except cssselect2.SelectorError:
            self.skipped.add("some selectors of style sheets")
            return
        for selector in selectors:
            self.rules += 1
            self.matcher.add_selector(selector, declarations)

    def declared(self, element: cssselect2.ElementWrapper) -> dict[str, list[str]]:
        """By property the values declared for an element, the strongest first; importance counts."""
        node = element.etree_element
        rows: list[tuple[bool, str, str]] = [
            (False, name, value.strip()) for name, value in node.attrib.items() if name in KNOWN and name != "d"
        ]
        for _specificity, _order, pseudo, declarations in sorted(
            self.matcher.match(element), key=lambda found: (found[0], found[1])
        ):
            if pseudo is None:
                rows += [(strong, name, value) for name, value, strong in declarations]
        inline = _inline(node.attrib.get("style", ""))
        rows += [(strong, name, value) for name, value, strong in inline]
        out: dict[str, list[str]] = {}
        for strong in (True, False):
            for important, name, value in reversed(rows):
                if important == strong:
                    out.setdefault(name, []).append(value)
        return out


@lru_cache(maxsize=8_192)
def _inline(text: str) -> tuple[tuple[str, str, bool], ...]:
    """The declarations of a style attribute: in most files thousands of elements have the same few."""
    return tuple(_declarations(tinycss2.parse_component_value_list(text))) if text else ()


def _declarations(content: Any) -> Iterator[tuple[str, str, bool]]:
    for item in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if item.type != "declaration":
            continue
        name = item.name if item.name.startswith("--") else item.lower_name
        if name in KNOWN or name.startswith("--"):
            yield name, tinycss2.serialize(item.value).strip(), item.important


class Styles:
    """Computed styles of the elements of a file, each worked out once."""

    def __init__(self, root: Element, sheets: list[str]) -> None:
        self.sheet = StyleSheet(sheets)
        self.wrappers = {
            wrapped.etree_element: wrapped for wrapped in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree()
        }
        self._known: dict[Element, Style] = {}
        self._alike: dict[tuple[object, ...], tuple[Style, Style]] = {}

    @property
    def rules(self) -> int:
        return self.sheet.rules

    @property
    def skipped(self) -> set[str]:
        return self.sheet.skipped

    def of(self, element: Element) -> Style:
        """The computed style of an element where it stands in the file."""
        found = self._known.get(element)
        if found is None:
            parent = self.wrappers[element].parent
            above = self.of(parent.etree_element) if parent is not None else dict(INHERITED)
            found = self._known[element] = self.under(element, above)
        return found

    def under(self, element: Element, above: Style) -> Style:
        """The computed style of an element as a child of one with the style ``above``: what a use does."""
        declared = self.sheet.declared(self.wrappers[element])
        # What does not say where it lies is mostly the same as of other elements in the same place.
        told = (id(above), tuple((name, *values) for name, values in declared.items() if name not in GEOMETRY))
        found = self._alike.get(told)
        if found is None or found[0] is not above:
            found = self._alike[told] = (above, self._worked_out(declared, above))
        style = dict(found[1])
        custom = {name: value for name, value in style.items() if name.startswith("--")}
        for name in GEOMETRY:
            if name in declared:
                value = _computed(name, declared[name], custom, above)
                if value is not None:
                    style[name] = value
        return style

    def _worked_out(self, declared: dict[str, list[str]], above: Style) -> Style:
        """All of a computed style but its geometry."""
        custom = {name: value for name, value in above.items() if name.startswith("--")}
        custom |= {name: values[0] for name, values in declared.items() if name.startswith("--")}
        style = {**OWN, **{name: above.get(name, first) for name, first in INHERITED.items()}, **custom}
        for name, values in declared.items():
            if not name.startswith("--") and name not in GEOMETRY:
                value = _computed(name, values, custom, above)
                if value is not None:
                    style[name] = value
        style["font-size"] = _font_size(style["font-size"], float(above.get("font-size", "16")))
        return style


def _computed(name: str, values: list[str], custom: dict[str, str], above: Style) -> str | None:
    """The first of some values, the strongest first, that a property takes; None leaves what is inherited."""
    for told in values:
        value = told
        if "var(" in told.lower():
            put = _with_variables(tinycss2.parse_component_value_list(told), custom, 0)
            # Unknown when it is computed: as if nothing had been declared.
            if put is None or not TAKES.get(name, bool)(put):
                return None
            value = put
        low = value.lower()
        if low in ("inherit", "unset", "revert", "revert-layer", "initial"):
            first = INHERITED.get(name, OWN.get(name, ""))
            if low == "initial" or (low != "inherit" and name not in INHERITED):
                return first
            return above.get(name, first)
        if value and TAKES.get(name, bool)(value):
            return value
    return None


def _with_variables(tokens: list[Any], custom: dict[str, str], depth: int) -> str | None:
    """The tokens with each var() replaced; None where one has neither a value nor a default."""
    if depth > 20:
        return None
    out: list[str] = []
    for token in tokens:
        if token.type == "function" and token.lower_name == "var":
            inside = list(token.arguments)
            name = next((each.value for each in inside if each.type == "ident"), "")
            comma = next((k for k, each in enumerate(inside) if each.type == "literal" and each.value == ","), None)
            if name in custom:
                put = _with_variables(tinycss2.parse_component_value_list(custom[name]), custom, depth + 1)
            else:
                put = None if comma is None else _with_variables(inside[comma + 1 :], custom, depth + 1)
            if put is None:
                return None
            out.append(put.strip())
        elif token.type == "function":
            put = _with_variables(token.arguments, custom, depth + 1)
            if put is None:
                return None
            out.append(f"{token.name}({put})")
        else:
            out.append(token.serialize())
    return "".join(out).strip()


def _font_size(told: str, above: float) -> str:
    """A font size in px, as text."""
    found = _LENGTH.match(told.strip())
    if not found:
        return str(above)
    unit = found[1].lower()
    number = float(told.strip()[: len(told.strip()) - len(found[1])])
    if unit in ("em", "%"):
        return str(above * (number / 100 if unit == "%" else number))
    return str(number * UNITS.get(unit, 1.0))
