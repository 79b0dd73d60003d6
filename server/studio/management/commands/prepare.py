"""Make the database ready in one go, so that a start is quick."""

from typing import Any

from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand

from studio.demo import load


class Command(BaseCommand):
    """`manage.py prepare`: migrate, clear away what has run out, and load the demo's pieces."""

    help = "Migrate, clear what has run out, and load the demo's pieces where the demo is offered."

    def handle(self, *args: Any, **options: Any) -> None:
        """Do all of it."""
        call_command("migrate", verbosity=0, interactive=False)
        call_command("createcachetable")
        call_command("clear")
        if settings.DEMO:
            load()
