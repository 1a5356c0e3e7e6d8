"""Which evidence decides."""
