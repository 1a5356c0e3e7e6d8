"""What a keyed radio sends."""
