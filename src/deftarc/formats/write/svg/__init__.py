"""Animated SVG: drawings as elements, their motion as CSS animations or as SMIL."""
