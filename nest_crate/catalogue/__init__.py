"""The catalogue: tables, and the services over them; sessions are passed in."""
