"""The list of layers and lanes."""
