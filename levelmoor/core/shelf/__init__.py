"""Published reports side by side: what each holds, what all of them say of one product, how two revisions differ."""
