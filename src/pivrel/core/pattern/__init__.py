"""Patterns: the pieces of a laying as they are cut out of sheet material and folded, with what joins them."""
