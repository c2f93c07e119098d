"""What is connected to what: the tree, its notation, netlists, edits, nodes and branches."""
