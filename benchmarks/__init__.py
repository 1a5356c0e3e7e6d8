"""Speed, run by hand: ratios within one run, never a timed test."""
