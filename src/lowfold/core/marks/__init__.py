"""What is marked on a part: colour bands, letter codes, digits; read and written."""
