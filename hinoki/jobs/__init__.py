"""Worker processes and jobs."""
