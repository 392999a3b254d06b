"""Files in and out: spreadsheets of readings, the history, the shopping list. A spec sheet of its own format is read where sheets are."""
