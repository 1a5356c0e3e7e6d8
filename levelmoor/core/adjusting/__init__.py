"""Adjusting an article: rounds of moves, how its dips answer to them, and the next move."""
