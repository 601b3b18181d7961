"""What comes in and goes out: SVG, pictures, fonts and text, project files, CSV.

Everything that comes in is checked here, against the limits, before anything is kept.
"""
