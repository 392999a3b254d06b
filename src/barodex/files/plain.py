"""Cells that a spreadsheet takes as they are written."""

from __future__ import annotations


def plain_cell(text: str) -> str:
    """A cell that a spreadsheet does not take for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text
