"""PINs: the rule, weak ones, generation, hashes, lock-out and duress."""
