"""What every endpoint shares: bodies, answers, faults."""
