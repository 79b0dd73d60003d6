"""Who an operator means."""

from django.contrib.auth.models import User
from django.core.management.base import CommandError


def account_called(name: str) -> User:
    """The account of that name; CommandError where there is none."""
    user = User.objects.filter(username=name).first()
    if user is None:
        raise CommandError(f"There is no account “{name}”.")
    return user
