DROP VIEW clearance_row;
DROP TABLE clearance, release, service_secret;
