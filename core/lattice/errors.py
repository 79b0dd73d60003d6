"""The one kind of error that the core raises on purpose."""


class RecipeError(ValueError):
    """Something a musician asked for cannot be done; the message is one sentence for them."""
