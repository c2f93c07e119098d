"""What is kept of a design: its states, what changed between them, and what is handed over."""
