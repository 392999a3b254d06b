"""The house itself: what may stand on what."""
