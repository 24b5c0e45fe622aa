"""Care for whole libraries: batch changes, duplicates, gaps, backups."""
