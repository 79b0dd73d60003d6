"""Clear away what nobody can come back to."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from studio.stored.accounts import remove_due
from studio.stored.clearing import clear


class Command(BaseCommand):
    """`manage.py clear`: may run at any time, once a day say, while people play."""

    help = "Clear what was deleted over thirty days ago, and what nothing names any more."

    def handle(self, *args: Any, **options: Any) -> None:
        """Clear it, and sessions that have run out."""
        call_command("clearsessions")
        remove_due()
        clear()
