"""Ways out of Plum Rake: e-mails and webhooks."""
