"""Several numbers in an address, with commas between them."""

from typing import Annotated

from pydantic import Field

Numbers = Annotated[str, Field(pattern=r"^([0-9]{1,17}(,[0-9]{1,17})*)?$", max_length=8000)]
"""Whole numbers, or none."""


def listed(text: str) -> list[int]:
    """The numbers one by one."""
    return [int(number) for number in text.split(",") if number]
