"""A season that does not know the rules: the simulated truth that the demo lives in and every rule is judged by.

It differs in form from the rules on purpose and imports nothing of them but units and the calendar.  What happens is
hidden in `plants.Plants`; a grower, a page or a rule sees only `season.Seen`, or what a grower wrote down.
"""
