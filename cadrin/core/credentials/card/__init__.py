"""Cards: formats and bits, life, terms, stock, and the number detective."""
