"""The kinds of compartment, and what each says of itself whatever its sheet. What a single compartment says stands on its sheet."""
