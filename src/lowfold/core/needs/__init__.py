"""The needs a sheet can state: how each is read, searched, and weighed."""
