-- depends: 0003.whole_sites

ALTER TABLE site ADD journeys jsonb NOT NULL DEFAULT '[]';
