"""What the page and the command line both do with records and core."""
