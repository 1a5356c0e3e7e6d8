"""Readings of meters, and their slips."""
