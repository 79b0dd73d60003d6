"""Write the API's OpenAPI document."""

import json
from typing import Any

from django.core.management.base import BaseCommand

from studio.api import api


class Command(BaseCommand):
    """`manage.py openapi`: prints the document that the web's types are made from."""

    help = "Print the API's OpenAPI document."

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        self.stdout.write(json.dumps(api.get_openapi_schema(), indent=1))
