"""What comes in: one file a kind, checked against the limits before anything is kept."""
