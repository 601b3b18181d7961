from tests.client import app, client, edit, page

__all__ = ["app", "client", "edit", "page"]
