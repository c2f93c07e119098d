"""What a meter does to a circuit, and what it shows."""
