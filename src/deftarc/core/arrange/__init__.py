"""Who carries whom, whose x and y, and what things are drawn to."""
