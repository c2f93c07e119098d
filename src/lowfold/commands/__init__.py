"""The commands of the terminal that need no server: their words, tables and exit codes."""
