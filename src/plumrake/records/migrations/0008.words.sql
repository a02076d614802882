-- depends: 0007.gate

CREATE TABLE site_word (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    word text NOT NULL,
    added_by bigint NOT NULL REFERENCES person,
    added_at timestamptz NOT NULL DEFAULT now()
);
CREATE UNIQUE INDEX site_word_once ON site_word (site_id, lower(word));
COMMENT ON TABLE site_word IS 'Words that are spelt right on a site whatever dictionaries say, and who said so.';

ALTER TABLE site ADD words_dropped integer NOT NULL DEFAULT 0;
COMMENT ON COLUMN site.words_dropped IS 'How often words were dropped: pages read before that have to be read again.';
