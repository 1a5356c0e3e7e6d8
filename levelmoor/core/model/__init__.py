"""The evaluation as plain data."""
