"""Simulated instruments on loopback, with physics behind them and faults on request."""
