"""Commands of files."""
