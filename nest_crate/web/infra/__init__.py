"""What all views use: services, guards, errors, forms."""
