"""Services at the vehicle: an append-only list of acts on a guide that is kept, folded by the core into the state of the work."""
