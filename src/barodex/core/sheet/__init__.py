"""What is known of a compartment: its sheet, who claims what, what is plausible, which parts and tools it takes, which kinds of service it allows.

Not what is done in a service: that is the guide.
"""
