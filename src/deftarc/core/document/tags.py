"""Colour tags, of layers and of markers."""

from typing import Literal

#: In the order they are handed out.
TAGS = ("plum", "sea", "pine", "brick", "ochre", "slate")
Tag = Literal["plum", "sea", "pine", "brick", "ochre", "slate"]
