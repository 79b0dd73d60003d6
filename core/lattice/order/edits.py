"""Changes to an order: each a small document. Blocks are named by their places, from 0."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import Field

from lattice.base.errors import RecipeError
from lattice.base.values import Document
from lattice.base.words import many
from lattice.order.document import MOST_BLOCKS, Block, Count, Order
from lattice.order.words import Patterns, added, removed, worded

Place = Annotated[int, Field(ge=0, lt=MOST_BLOCKS)]


class OrderEdit(Document):
    """A change; `do` names its kind."""

    def apply(self, order: Order, patterns: Patterns) -> Order:
        """The order with the change made; RecipeError if it cannot be."""
        raise NotImplementedError

    def describe(self, order: Order, patterns: Patterns) -> str:
        """The change in a few words, seen from the order it is made on."""
        raise NotImplementedError


class BlockEdit(OrderEdit):
    """A change to the block at a place."""

    block: Place

    def of(self, order: Order) -> Block:
        """The block; RecipeError if there is none."""
        if self.block >= len(order.blocks):
            raise RecipeError(f"The order has {many(len(order.blocks), 'blocks')}; choose among "
                              "them.")
        return order.blocks[self.block]

    def changed(self, block: Block, patterns: Patterns) -> Block:
        """The block with the change made."""
        raise NotImplementedError

    def apply(self, order: Order, patterns: Patterns) -> Order:
        blocks = list(order.blocks)
        blocks[self.block] = self.changed(self.of(order), patterns)
        return order.model_copy(update={"blocks": tuple(blocks)})

    def who(self, order: Order, patterns: Patterns) -> str:
        """The block as a description begins with it."""
        pattern = patterns.get(self.of(order).pattern)
        return f"block {self.block + 1}, {pattern.name if pattern else 'gone'}"


class AddBlock(OrderEdit):
    """Put a block that plays a pattern once before the one at a place, or at the end."""

    do: Literal["add_block"]
    pattern: int
    at: Place | None = None

    def apply(self, order: Order, patterns: Patterns) -> Order:
        if self.pattern not in patterns:
            raise RecipeError("That pattern is not in this piece (any more).")
        at = len(order.blocks) if self.at is None else min(self.at, len(order.blocks))
        return _put(order, at, Block(pattern=self.pattern))

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"+ {patterns[self.pattern].name}" if self.pattern in patterns else "+ a block"


class SayBlock(BlockEdit):
    """Change one word of a block's sentence."""

    do: Literal["say_block"]
    slot: str
    value: Any

    def changed(self, block: Block, patterns: Patterns) -> Block:
        return worded(block, self.slot, self.value, patterns)

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"{self.who(order, patterns)}: {self.slot.partition('.')[0]} → {self.value}"


class AddToBlock(BlockEdit):
    """Put a clause of a block's sentence into use."""

    do: Literal["add_to_block"]
    clause: str

    def changed(self, block: Block, patterns: Patterns) -> Block:
        return added(block, self.clause, patterns)

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"{self.who(order, patterns)}: + {self.clause}"


class TakeFromBlock(BlockEdit):
    """Take a clause of a block's sentence away."""

    do: Literal["take_from_block"]
    clause: str

    def changed(self, block: Block, patterns: Patterns) -> Block:
        return removed(block, self.clause)

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"{self.who(order, patterns)}: without {self.clause}"


class SetLength(BlockEdit):
    """Let a block play so many passes, bars or steps, whichever it counts in."""

    do: Literal["set_length"]
    count: Count

    def changed(self, block: Block, patterns: Patterns) -> Block:
        return block.model_copy(update={"count": self.count})

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"{self.who(order, patterns)}: {self.count} {self.of(order).unit}"


class RemoveBlock(BlockEdit):
    """Take a block out; brackets stay around the others that they held."""

    do: Literal["remove_block"]

    def apply(self, order: Order, patterns: Patterns) -> Order:
        self.of(order)
        blocks = order.blocks[:self.block] + order.blocks[self.block + 1:]
        return Order(blocks=blocks, between=_without(order.between, self.block))

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"{self.who(order, patterns)}: taken out"


class DuplicateBlock(BlockEdit):
    """Put the same block once more after it."""

    do: Literal["duplicate_block"]

    def apply(self, order: Order, patterns: Patterns) -> Order:
        return _put(order, self.block + 1, self.of(order))

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"{self.who(order, patterns)}: once more"


class MoveBlock(BlockEdit):
    """Move a block to another place; the brackets stay at their places."""

    do: Literal["move_block"]
    to: Place

    def apply(self, order: Order, patterns: Patterns) -> Order:
        block = self.of(order)
        blocks = [*order.blocks[:self.block], *order.blocks[self.block + 1:]]
        blocks.insert(self.to, block)
        return order.model_copy(update={"blocks": tuple(blocks)})

    def describe(self, order: Order, patterns: Patterns) -> str:
        return f"{self.who(order, patterns)}: to place {min(self.to, len(order.blocks) - 1) + 1}"


class SetBetween(OrderEdit):
    """Let the blocks from one to another go round, or, with null, the order go on to its end."""

    do: Literal["between"]
    blocks: tuple[Place, Place] | None

    def apply(self, order: Order, patterns: Patterns) -> Order:
        if self.blocks and not self.blocks[0] <= self.blocks[1] < len(order.blocks):
            raise RecipeError("The brackets stand around blocks that are there, in order.")
        return order.model_copy(update={"between": self.blocks})

    def describe(self, order: Order, patterns: Patterns) -> str:
        if self.blocks is None:
            return "no brackets"
        return f"brackets around blocks {self.blocks[0] + 1} to {self.blocks[1] + 1}"


AnyOrderEdit = Annotated[
    AddBlock | SayBlock | AddToBlock | TakeFromBlock | SetLength | RemoveBlock | DuplicateBlock
    | MoveBlock | SetBetween,
    Field(discriminator="do")]


def change_order(order: Order, edits: Sequence[OrderEdit], patterns: Patterns) -> Order:
    """The order with changes made one after another."""
    for edit in edits:
        order = edit.apply(order, patterns)
    return order


def _put(order: Order, at: int, block: Block) -> Order:
    """The order with a block put in; brackets keep what they held, one put between them too."""
    if len(order.blocks) >= MOST_BLOCKS:
        raise RecipeError(f"An order has up to {MOST_BLOCKS} blocks.")
    between = order.between
    if between:
        first, last = between
        between = (first + (at <= first), last + (at <= last))
    return Order(blocks=(*order.blocks[:at], block, *order.blocks[at:]), between=between)


def _without(between: tuple[int, int] | None, gone: int) -> tuple[int, int] | None:
    if between is None:
        return None
    first, last = between[0] - (gone < between[0]), between[1] - (gone <= between[1])
    return (first, last) if first <= last else None
