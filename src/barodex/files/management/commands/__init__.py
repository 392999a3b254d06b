"""Backup, its way back, and the one command of an installation."""
