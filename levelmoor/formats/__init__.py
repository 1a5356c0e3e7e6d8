"""Open formats in and out: bytes on one side, core objects on the other."""
