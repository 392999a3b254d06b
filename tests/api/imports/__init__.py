"""Moving in."""
