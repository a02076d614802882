"""Which words are in no dictionary, and what may be meant."""
