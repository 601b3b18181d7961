"""What a page shows of a scene: each panel with its view and what it keeps of what was sent."""
