"""What to sweep, and how far the work has come."""
