"""Trying it out without an account."""
