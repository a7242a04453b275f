"""The application as the server program finds it, from the settings in the environment."""

from fastapi import FastAPI

from nimble_quote.api.app import make_app
from nimble_quote.settings import settings


def app() -> FastAPI:
    """The application."""
    return make_app(settings())
