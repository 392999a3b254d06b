"""Numbers with units, and what may go wrong with them: the tree of errors, how a figure's working is shown, reading and writing quantities,

how oil grows when it is warm, temperature windows. Nothing here knows what a compartment is.
"""
