"""How Skia paints each effect, under the effect's id: collected from a file each."""

from deftarc.core.base.register import collect
from deftarc.paint.skia.effects.base import CUTTERS, FILTERS, Cut, Cutter, Filter, Space, Step, space_of, steps_of

collect(__name__, __path__, ("base",), called="filters")

__all__ = ["CUTTERS", "FILTERS", "Cut", "Cutter", "Filter", "Space", "Step", "space_of", "steps_of"]
