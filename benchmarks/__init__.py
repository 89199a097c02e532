"""Speed, as ratios measured in one run. No test is timed."""
