"""Against what is demanded: verdicts, single faults, cautions, the whole check."""
