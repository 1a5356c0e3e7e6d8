"""Words that everything shares: bounds of what is typed, and sentences."""
