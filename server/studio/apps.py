"""The application's configuration."""

from django.apps import AppConfig


class StudioConfig(AppConfig):
    """Pieces, patterns, the Trail and clips."""

    name = "studio"
