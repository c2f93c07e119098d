"""What parts are sold under: ratings, limits, families, and what there is of them."""
