"""The one kind of error that the core raises on purpose."""


class RecipeError(ValueError):
    """Something a musician asked for cannot be done; the message is one sentence for them."""


def told(message: str, *place: str | int) -> str:
    """What a validator found, and where, as one sentence."""
    message = message.removeprefix("Value error, ")
    # Where several types were tried, the place names each of them, as in "list[int]".
    named = [str(part) for part in place if "[" not in str(part)]
    where = f"{' › '.join(named)}: " if named else ""
    return f"{where}{message}" if message.endswith(".") else f"{where}{message}."
