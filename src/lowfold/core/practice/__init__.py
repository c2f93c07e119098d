"""Practice: estimates in the head, what is in series, and the fault on a hidden board."""
