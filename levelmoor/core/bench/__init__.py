"""The bench: calibration, gates, plane, chains, pads, and a module for each check."""
