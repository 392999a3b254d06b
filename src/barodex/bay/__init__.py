"""Services at the vehicle: an append-only list of events, folded by the core into the state of the work."""
