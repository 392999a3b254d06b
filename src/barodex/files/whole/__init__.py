"""The whole book as one file: every row as it is kept, tables that a spreadsheet opens, and the photos; and its way into an empty book."""
