"""The rules and the arithmetic. Pure: no files, no clock, no network, no framework.

Everything is in SI units (Hz, ohm, s) unless a name says otherwise.
"""
