"""What was done and found: records, corrections, follow-ups, printed papers."""
