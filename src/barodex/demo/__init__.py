"""The demo fleet, invented, with dates relative to the day it is loaded. It is written through the same actions as real work."""
