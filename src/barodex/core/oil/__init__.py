"""Oils: grades and viscosity, what a label says, what a compartment asks for, the rules, and the verdict on one for the other.

What is on a shelf, in a box or in a drum belongs to the ledger.
"""
