"""What becomes of accounts: a new password, where they are signed in, and their end."""

from datetime import timedelta
from secrets import choice
from string import ascii_lowercase, digits

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone

from studio.models import Departure, Piece, SignIn
from studio.stored.clearing import remove_piece
from studio.stored.owners import owner_locked

TO_THINK_BETTER = timedelta(days=1)
"""So long before it is deleted an account can be kept after all."""
READABLE = "".join(sorted(set(ascii_lowercase + digits) - set("il1o0")))


def set_password(user: User, password: str, staying: str | None = None) -> None:
    """A new password; whoever is signed in with the one before is so no longer, but for the session
    with the key `staying`, to whose data Django's new mark of the password has to be given."""
    with transaction.atomic():
        user.set_password(password)
        user.save(update_fields=["password"])
        SignIn.objects.filter(owner=user).exclude(pk=staying).delete()


def any_password() -> str:
    """A password by chance, to be read out: 4 groups of 4 letters and digits, some 79 bits."""
    return "-".join("".join(choice(READABLE) for _ in range(4)) for _ in range(4))


def depart(owner: int) -> Departure:
    """From now on the account is to be deleted in a day."""
    made, _ = Departure.objects.get_or_create(
        owner_id=owner, defaults={"at": timezone.now() + TO_THINK_BETTER})
    return made


def stay(owner: int) -> None:
    """It is not to be deleted after all."""
    Departure.objects.filter(owner=owner).delete()


def remove_due() -> list[str]:
    """Delete the accounts whose day is over; their names."""
    gone = []
    for departure in Departure.objects.filter(at__lte=timezone.now()).select_related("owner"):
        gone.append(departure.owner.get_username())
        remove(departure.owner)
    return gone


def remove(user: User) -> None:
    """Delete an account with all that is in it, at once and for ever."""
    with owner_locked(user.pk):
        for piece in Piece.objects.select_for_update().filter(owner=user):
            remove_piece(piece)
        user.delete()
