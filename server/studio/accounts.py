"""What a name and a password of an account have to be like."""

import unicodedata
from typing import Any

from django.contrib.auth.forms import UserCreationForm
from django.core.exceptions import ValidationError

from studio.demo import DEMO_USER

RESERVED = {DEMO_USER, "admin", "administrator", "root", "system", "support", "help", "staff",
            "moderator", "owner", "security", "webmaster", "postmaster", "info", "jolly", "lattice",
            "jollylattice", "nobody", "anonymous", "guest"}
"""Names that seem to speak for the service."""
LIKE_LATIN = frozenset("аеорсухіјѕһԁԛԝвкмнт" "αβγεικνορτυχω" "օսոհց")
"""Letters of other alphabets (Cyrillic, Greek, Armenian) that look like Latin ones."""
FEWEST_DIFFERENT = 5


class VariedPassword:
    """A password of several different characters, other than spaces."""

    def validate(self, password: str, user: Any = None) -> None:
        """ValidationError where there are too few."""
        if len(set(password) - set(" \t\n")) < FEWEST_DIFFERENT:
            raise ValidationError(self.get_help_text())

    def get_help_text(self) -> str:
        """What is asked for."""
        return f"A password has at least {FEWEST_DIFFERENT} different characters besides spaces."


class SignUp(UserCreationForm):  # type: ignore[type-arg]
    """A new account."""

    def clean_username(self) -> str | None:  # type: ignore[override]
        """The name; ValidationError where it could be taken for another's, None where it is."""
        name: str | None = super().clean_username()
        if name is None:
            return None
        letters = [letter for letter in name.casefold() if letter.isalpha()]
        plain = "".join(letter for letter in name.casefold() if letter.isalnum())
        if plain in RESERVED:
            raise ValidationError("This name is kept for the service; choose another.")
        alphabets = {_alphabet(letter) for letter in letters}
        if len(alphabets) > 1 or (alphabets - {"LATIN"} and LIKE_LATIN.issuperset(letters)):
            raise ValidationError("This name could be taken for another one; write it with the "
                                  "letters of one alphabet.")
        return name


def _alphabet(letter: str) -> str:
    return unicodedata.name(letter, "UNKNOWN").split()[0]
