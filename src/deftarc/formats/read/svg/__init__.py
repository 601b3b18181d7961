"""SVG read into a drawing."""
