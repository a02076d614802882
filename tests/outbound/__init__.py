"""Ways out: e-mails and webhooks."""
