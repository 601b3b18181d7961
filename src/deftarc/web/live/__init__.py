"""The live loop: one socket a page, looks in, answers out."""
