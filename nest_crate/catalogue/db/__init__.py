"""Tables, the sessions on them, and migrations."""
