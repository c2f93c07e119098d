"""A network folded to one resistance and unfolded again, and what can be read off it."""
