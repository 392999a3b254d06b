"""Amounts: what went in and came out, what was lost or learnt, what to pour and to buy, how fresh an exchange makes it.

Not what the oil looked like: that is a finding.
"""
