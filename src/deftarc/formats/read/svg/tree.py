"""XML read into a tree by expat: counted as it is read, refused where it defines entities or looks outside itself."""

from typing import NoReturn
from xml.etree.ElementTree import Element, TreeBuilder
from xml.parsers import expat

from deftarc.core.base import limits
from deftarc.core.base.errors import Refusal


class _Foreign(Exception):
    """An entity, or something outside the file."""


def _refuse(*_told: object) -> NoReturn:
    raise _Foreign


def _named(name: str) -> str:
    """A name with its namespace as ElementTree writes it; expat puts the two together with the same brace."""
    return f"{{{name}" if "}" in name else name


def read_tree(data: bytes) -> Element:
    """The root of an XML file's tree; comments are left out. Refusal, in a sentence, where it cannot be had."""
    builder = TreeBuilder()
    nodes = depth = 0

    def start(name: str, attributes: dict[str, str]) -> None:
        nonlocal nodes, depth
        nodes += 1
        depth += 1
        if nodes > limits.MAX_SVG_NODES:
            raise Refusal(f"This SVG has more than {limits.MAX_SVG_NODES:,} parts. Simplify it and try again.")
        if depth > limits.MAX_SVG_DEPTH:
            raise Refusal(f"This SVG nests more than {limits.MAX_SVG_DEPTH} groups. Flatten it and try again.")
        builder.start(_named(name), {_named(key): value for key, value in attributes.items()})

    def end(name: str) -> None:
        nonlocal depth
        depth -= 1
        builder.end(_named(name))

    try:
        parser = expat.ParserCreate(namespace_separator="}")
        parser.buffer_text = True
        parser.StartElementHandler, parser.EndElementHandler = start, end
        parser.CharacterDataHandler = builder.data
        parser.EntityDeclHandler = parser.UnparsedEntityDeclHandler = _refuse
        parser.ExternalEntityRefHandler = parser.SkippedEntityHandler = _refuse
        parser.Parse(data, True)
        return builder.close()
    except _Foreign:
        raise Refusal("This SVG defines entities or looks outside itself, which is not taken. Save it plain.") from None
    except (expat.ExpatError, LookupError, ValueError, AssertionError) as error:
        if isinstance(error, Refusal):
            raise
        raise Refusal("This SVG is broken: it is no well-formed XML. Export it again.") from None
