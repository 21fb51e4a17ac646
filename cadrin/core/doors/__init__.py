"""What a door does: its rules, its state, when it is unlocked, and what stands against a read there."""
