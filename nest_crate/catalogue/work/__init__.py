"""Long work: jobs in pieces, progress, and rendering again."""
