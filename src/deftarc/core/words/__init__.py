"""Motion in words: a lane's keys written as one line and read back exactly."""

from deftarc.core.words.read import Misread, read_keys
from deftarc.core.words.write import told_keys

__all__ = ["Misread", "read_keys", "told_keys"]
