"""Instruments over TCP: the SCPI client, tables of commands, and simulated stand-ins that answer them."""
