"""What was seen: debris, colour, photos, how findings change over the changes, and what surprises.

When the next change falls belongs to ``due``.
"""
