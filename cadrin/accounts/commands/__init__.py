"""What operators do about operators: signing in, passwords, one-time codes, roles, tokens."""
