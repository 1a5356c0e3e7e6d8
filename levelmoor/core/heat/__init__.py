"""Duty and heat: average power, and what a run under power foresees."""
