"""Levelmoor: swept antennas against their published specifications."""

__version__ = "0.1.0"
