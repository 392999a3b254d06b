"""Everything that is printed or sent as a paper, in one look. A page of the application is no paper."""
