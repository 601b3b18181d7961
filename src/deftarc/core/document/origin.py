"""Where a scene came from: a file that was brought in, and what it was then.

What it was is kept beside the document, so that when the file has changed and comes in again, what was changed here
can be told from what was changed there.
"""

from deftarc.core.base.model import AssetHash, Frozen, Name


class Origin(Frozen):
    """``file`` is the file's name; ``asset`` the scenes as they came of it, this one first."""

    file: Name
    asset: AssetHash


__all__ = ["Origin"]
