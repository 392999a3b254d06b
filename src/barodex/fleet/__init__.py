"""Vehicles, their compartments and what is set for each, meter readings, use and its forecast."""
