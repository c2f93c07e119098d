"""Outside devices: meters, through VISA."""
