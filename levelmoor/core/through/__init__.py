"""Sweeps through an article: choking impedance, insertion loss, attenuation, and the verdicts on them."""
