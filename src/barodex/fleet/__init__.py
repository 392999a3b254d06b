"""Vehicles, their oil compartments, and meter readings."""
