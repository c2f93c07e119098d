"""Networks laid out as schematics, in a grid without a scale."""
