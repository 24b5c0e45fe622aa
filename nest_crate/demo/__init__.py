"""The demo scenario: its sounds, its people and its library."""
