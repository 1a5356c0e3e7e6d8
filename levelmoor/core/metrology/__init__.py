"""Uncertainty, decision and significance."""
