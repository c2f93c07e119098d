"""Where work that takes time waits and runs: processes, the queue to them, jobs."""
