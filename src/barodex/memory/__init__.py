"""What is kept in memory between requests: each by its name, with what makes it stale. Whatever is kept anywhere is kept through here."""
