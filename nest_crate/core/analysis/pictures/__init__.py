"""What the screens draw."""
