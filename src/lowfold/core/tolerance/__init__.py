"""Over ranges of values: the box, its corners, spread, worst power, load line, sampling."""
