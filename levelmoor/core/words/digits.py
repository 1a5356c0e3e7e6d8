"""A figure in a line of words, with a decimal point or comma."""

FIGURE = r"(?<!\d)\d++(?:[.,]\d++)?+"
"""A pattern that looks at each digit once, however many there are: what it has taken it does not give back."""
