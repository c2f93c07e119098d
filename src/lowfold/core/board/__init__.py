"""Many needs at once: how they stand, values they share, what has to be fetched."""
