"""What is written of a need, token by token, and what is taken where nothing is."""
