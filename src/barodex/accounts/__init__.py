"""People, roles, sign-in, and the audit trail of who did what."""
