"""The web application: thin handlers over core and store, and the built front end."""

from .app import create_app

__all__ = ["create_app"]
