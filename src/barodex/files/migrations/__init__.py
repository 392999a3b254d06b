"""The tables of moving in."""
