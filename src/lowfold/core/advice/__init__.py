"""What to change where nothing passes, each way tried before it is told."""
