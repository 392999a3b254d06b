"""What follows, in the words of its owner. Figures come from the rooms before."""
