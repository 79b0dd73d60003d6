"""The end of accounts."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from studio.management.named import account_called
from studio.stored.accounts import remove, remove_due


class Command(BaseCommand):
    """`manage.py remove_account NAME` deletes an account at once; with `--due`, those whose owners
    asked for it a day ago."""

    help = "Delete an account with all that is in it, at once and for ever."

    def add_arguments(self, parser: CommandParser) -> None:
        """The name, or --due."""
        which = parser.add_mutually_exclusive_group(required=True)
        which.add_argument("name", nargs="?")
        which.add_argument("--due", action="store_true",
                           help="those whose owners asked for it a day ago")

    def handle(self, *args: Any, **options: Any) -> None:
        """Delete them, and name them."""
        if options["due"]:
            gone = remove_due()
        else:
            gone = [options["name"]]
            remove(account_called(options["name"]))
        for name in gone:
            self.stdout.write(f"“{name}” is deleted.")
