"""Published tables, one file each, with source, edition and units. Nothing that was worked out here, and no code."""
