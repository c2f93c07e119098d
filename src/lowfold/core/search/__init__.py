"""Values that meet a target: combinations, dividers, feedback pairs, ladders."""
