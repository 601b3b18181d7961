"""Measure to value: paths by distance, outlines, colours."""
