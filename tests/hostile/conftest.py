"""The same client as the web's own tests have."""

from tests.web.conftest import app, client

__all__ = ["app", "client"]
