"""Names as people type them."""

from uuid import UUID

from lattice import Name
from ninja import Schema


class NameIn(Schema):
    """A name."""

    name: Name


class NewIn(NameIn):
    """Something new under a name; `key` makes asking for it twice harmless."""

    key: UUID | None = None
