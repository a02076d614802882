DROP TABLE idempotency, sweep_event, finding, reading, evidence, sweep_page, sweep, page, part, site, token, sign_in_attempt, session, person;
