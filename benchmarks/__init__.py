"""Speed as ratios, each beside a reference that is timed in the same run."""
