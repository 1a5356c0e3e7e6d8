"""Sweeps against each other."""
