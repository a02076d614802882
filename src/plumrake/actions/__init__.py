"""Where the layers meet: each action takes what came in, asks lenses, core and records, and returns
data."""
