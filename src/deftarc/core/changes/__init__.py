"""Pure functions on tracks and layers, of which edits are made."""
