"""One read, and what comes of it."""
