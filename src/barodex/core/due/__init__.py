"""When: limits and life used, seasons, the workshop's schedule, use and its forecast, visits.

What a finding means is judged in ``findings``; here it is a bound.
"""
