"""What a controller holds: a codec for each kind of record, their states, and the order of sending."""
