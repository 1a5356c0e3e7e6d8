"""The verdict on one piece of evidence in one window."""
