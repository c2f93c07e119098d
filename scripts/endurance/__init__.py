"""What is promised to stand, tried for minutes: kills, faults, load (docs/reliability.md)."""
