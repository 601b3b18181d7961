"""A toy of each kind that Deft Arc can be added to, through the registers alone: nothing of the house is changed.

They are there where DEFTARC_MORE names this package; tests/test_toys.py and tests/e2e/test_toys.py see them at work.
"""
