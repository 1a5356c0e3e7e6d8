"""Trials of a tuner: loads, the grid they make, the verdicts they give, and which to make."""
