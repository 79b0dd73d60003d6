"""Make the database ready in one go, so that a start is quick."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from studio.demo import load


class Command(BaseCommand):
    """`manage.py prepare`: migrate, and load the demo's pieces."""

    help = "Migrate, and load the demo's pieces unless they are there."

    def handle(self, *args: Any, **options: Any) -> None:
        """Do both."""
        call_command("migrate", verbosity=0, interactive=False)
        load()
