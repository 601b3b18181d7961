"""The same client as the web's own tests have."""

from tests.client import app, client

__all__ = ["app", "client"]
