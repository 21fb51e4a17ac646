"""Cards: formats, raw reads, the numbers they carry, and what state a card is in."""
