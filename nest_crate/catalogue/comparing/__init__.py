"""What is compared, and what blind tests of it said."""
