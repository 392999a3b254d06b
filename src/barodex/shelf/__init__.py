"""Spec sheets with revisions and sources, lubricants, containers in stock and their movements."""
