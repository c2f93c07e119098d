"""Numbers of the trade: quantities read and written, preferred series, Ohm’s law."""
