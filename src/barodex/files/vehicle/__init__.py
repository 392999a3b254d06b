"""One vehicle with its compartments, sheets, oils, history and photos as a file that goes with it; and its way into another book."""
