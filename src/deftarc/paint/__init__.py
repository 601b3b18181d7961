"""FrameTable to pixels and movies. Paints what the core computed and knows no rule of motion."""
