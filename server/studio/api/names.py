"""Names as people type them."""

from ninja import Schema
from pydantic import Field, field_validator


class NameIn(Schema):
    """A name."""

    name: str = Field(min_length=1, max_length=80)

    @field_validator("name")
    @classmethod
    def _not_blank(cls, name: str) -> str:
        if not name.strip() or not name.isprintable():
            raise ValueError("A name needs at least one letter, on one line.")
        return name.strip()
