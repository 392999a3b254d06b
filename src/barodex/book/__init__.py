"""What was done and found: records, corrections, voids, follow-ups, photos kept. What is printed stands in ``papers``."""
