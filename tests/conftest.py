"""What holds for every test."""

from hypothesis import settings

# How long an example takes says something of the machine, not of the code.
settings.register_profile("untimed", deadline=None)
settings.load_profile("untimed")
