"""Deft Arc: keys, paths, and the curves between them."""

__version__ = "0.1.0"
