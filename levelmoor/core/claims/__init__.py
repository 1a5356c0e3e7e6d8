"""Claims as people and packages write them."""
