"""Barodex: the oil book of a driveline technician that does the sums."""
