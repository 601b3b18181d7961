"""The demo: Quillhaven, a made-up harbour town, and its ferry line's summer campaign.

``install`` builds it through the same edits a user makes, once, in an empty data folder.
"""

from deftarc.demo.quillhaven import DEMO_ID, build, install

__all__ = ["DEMO_ID", "build", "install"]
