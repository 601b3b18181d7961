"""How Skia paints each effect, under the effect's id: collected from a file each."""

from deftarc.core.base.register import collect
from deftarc.paint.skia.effects.base import FILTERS, Filter, Space, filters_of, space_of

collect(__name__, __path__, ("base",), called="filters")

__all__ = ["FILTERS", "Filter", "Space", "filters_of", "space_of"]
