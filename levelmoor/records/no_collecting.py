"""Loaded before what forked processes share: while it is loaded no garbage is looked for. Nearly all of it stays, and
what is looked through is written to, and shared no more."""

import gc

gc.disable()
