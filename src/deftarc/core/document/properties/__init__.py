"""One table of facts about every property that can be keyed, collected from a file for each group of them."""

from deftarc.core.base.register import collect
from deftarc.core.document.properties.property import PROPERTIES, Properties, Property, property_named

collect(__name__, __path__, ("property", "transform", "shape", "paint", "outlining"))

#: Properties whose motion makes the outline differ from frame to frame.
SHAPING = frozenset(facts.id for facts in PROPERTIES.plain() if facts.drives == "outline")
#: Properties whose growth is a matter of ratios.
GROWING = frozenset(facts.id for facts in PROPERTIES.plain() if "growing" in facts.traits)

__all__ = ["GROWING", "PROPERTIES", "SHAPING", "Properties", "Property", "property_named"]
