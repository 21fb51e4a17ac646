"""Write reads, and what is done to a cardholder together with their reads: erase and merge."""
