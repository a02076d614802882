"""Ways out: letters and webhooks."""
