"""What a network works under, its gates, and the order in which choices are listed."""
