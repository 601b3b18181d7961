"""What a page shows of a scene: each panel with its view and what it keeps of what was sent.

A panel of several files is a room of its own, whose ``panel`` registers it.
"""

from importlib import import_module
from pkgutil import iter_modules

from deftarc.core.base.register import collect
from deftarc.web.panels.panel import PANELS, Panel, Part, Showing

# The list first: it says what the others are beside; the figures last, which stand apart from the rest.
_FIRST = ("list", "ruler", "pair", "path", "figures")
_ROOMS = [each.name for each in iter_modules(__path__) if each.ispkg]
for name in (*_FIRST, *(room for room in _ROOMS if room not in _FIRST)):
    import_module(f"{__name__}.{name}.panel" if name in _ROOMS else f"{__name__}.{name}")
collect(__name__, __path__)

__all__ = ["PANELS", "Panel", "Part", "Showing"]
