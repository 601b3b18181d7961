"""The style of an SVG element: presentation attributes, style sheets and the style attribute, in that order."""

from collections.abc import Iterator
from typing import Any

import cssselect2
import tinycss2

#: Properties that pass from an element to what it contains.
INHERITED = {
    "fill": "black",
    "fill-opacity": "1",
    "fill-rule": "nonzero",
    "stroke": "none",
    "stroke-opacity": "1",
    "stroke-width": "1",
    "stroke-linecap": "butt",
    "stroke-linejoin": "miter",
    "stroke-miterlimit": "4",
    "stroke-dasharray": "none",
    "stroke-dashoffset": "0",
    "color": "black",
    "visibility": "visible",
}
OWN = {"opacity": "1", "display": "inline", "stop-color": "black", "stop-opacity": "1"}
#: Properties that change the picture and are not followed: said to the user when they are used.
UNSUPPORTED = {
    "clip-path": "clipping paths",
    "mask": "masks",
    "filter": "filters",
    "mix-blend-mode": "blend modes",
    "marker-start": "markers",
    "marker-mid": "markers",
    "marker-end": "markers",
    "marker": "markers",
}
KNOWN = INHERITED.keys() | OWN.keys() | UNSUPPORTED.keys()


class StyleSheet:
    """The rules of all <style> elements of a file, matched by cssselect2."""

    def __init__(self, texts: list[str]) -> None:
        self.matcher = cssselect2.Matcher()
        #: Kinds of rules that were passed over, for the user.
        self.skipped: set[str] = set()
        for text in texts:
            for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
                self._add(rule)

    def _add(self, rule: Any) -> None:
        if rule.type == "at-rule":
            self.skipped.add(f"@{rule.lower_at_keyword} rules in style sheets")
            return
        if rule.type != "qualified-rule":
            return
        declarations = dict(_declarations(rule.content))
        try:
            selectors = cssselect2.compile_selector_list(rule.prelude)
        except cssselect2.SelectorError:
            self.skipped.add("some selectors of style sheets")
            return
        for selector in selectors:
            self.matcher.add_selector(selector, declarations)

    def of(self, element: cssselect2.ElementWrapper) -> dict[str, str]:
        """The declarations that hold for an element, the strongest last; importance counts."""
        plain: dict[str, str] = {}
        important: dict[str, str] = {}
        for _specificity, _order, pseudo, declarations in sorted(
            self.matcher.match(element), key=lambda found: (found[0], found[1])
        ):
            if pseudo is None:
                _apply(declarations.items(), plain, important)
        node = element.etree_element
        own = {name: value.strip() for name, value in node.attrib.items() if name in KNOWN}
        inline = dict(_declarations(tinycss2.parse_component_value_list(node.attrib.get("style", ""))))
        _apply(inline.items(), plain, important)
        return {**own, **plain, **important}


def _apply(pairs: Any, plain: dict[str, str], important: dict[str, str]) -> None:
    for name, (value, strong) in pairs:
        (important if strong else plain)[name] = value


def _declarations(content: Any) -> Iterator[tuple[str, tuple[str, bool]]]:
    for item in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if item.type == "declaration" and item.lower_name in KNOWN:
            yield item.lower_name, (tinycss2.serialize(item.value).strip(), item.important)
