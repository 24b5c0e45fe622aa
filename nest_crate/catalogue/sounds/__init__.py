"""Sound documents, and what people keep for use in them."""
