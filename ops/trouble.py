"""What goes wrong in a foreseeable way, as one sentence that says what to do."""


class Trouble(Exception):
    """The message is the whole of what the user sees."""
