"""A workshop's old spreadsheet: read, its headings mapped, each row shown with what it becomes, taken in at once, undone at once."""
