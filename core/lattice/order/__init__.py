"""The order: patterns one after another, each in a block of its own."""
