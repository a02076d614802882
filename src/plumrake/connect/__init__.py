"""Ways out of Plum Rake: letters and webhooks."""
