"""A new password for somebody who has lost theirs."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from studio.management.named import account_called
from studio.stored.accounts import any_password, set_password


class Command(BaseCommand):
    """`manage.py new_password NAME`: prints a password made by chance; every session ends."""

    help = "Give an account a new password, made by chance, and print it; its sessions end."

    def add_arguments(self, parser: CommandParser) -> None:
        """The name."""
        parser.add_argument("name")

    def handle(self, *args: Any, **options: Any) -> None:
        """Set it, and print it."""
        password = any_password()
        set_password(account_called(options["name"]), password)
        self.stdout.write(password)
