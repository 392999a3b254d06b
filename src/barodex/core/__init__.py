"""The computation. No Django, no input or output, no clock: "now" is always an argument.

A formula belongs here as a free function in the module of its subject, with its source in the docstring; a table of
published figures belongs in ``core/data`` with its edition and units. Results are frozen dataclasses. A value out of
range raises :class:`barodex.core.quantity.errors.OutOfRange`; nothing is clamped and nothing is defaulted in silence.
"""
