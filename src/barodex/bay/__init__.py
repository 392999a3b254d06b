"""Services at the vehicle: an append-only list of acts, folded by the core into the state of the work."""
