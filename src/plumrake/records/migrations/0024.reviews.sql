-- depends: 0023.handed_over
-- Reviews: what pages show for the questions that only people can answer, the pages that people
-- look at, and their answers.

CREATE TABLE page_evidence (
    hash text PRIMARY KEY,
    keys jsonb NOT NULL,
    content bytea NOT NULL
);
COMMENT ON TABLE page_evidence IS
'What a page, or a site, has to show for questions to people, once per content (zlib, JSON).';
COMMENT ON COLUMN page_evidence.keys IS
'By kind of evidence what its rows are known by: an answer lapses when that changes.';

ALTER TABLE reading ADD COLUMN shown text REFERENCES page_evidence;
ALTER TABLE sweep ADD COLUMN shown text REFERENCES page_evidence;
COMMENT ON COLUMN reading.shown IS 'What the page has to show for questions to people.';
COMMENT ON COLUMN sweep.shown IS 'What the site as a whole has to show for questions to people.';
CREATE INDEX reading_of_shown ON reading (shown) WHERE shown IS NOT NULL;
CREATE INDEX sweep_of_shown ON sweep (shown) WHERE shown IS NOT NULL;

CREATE TABLE review_page (
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    page_id bigint NOT NULL REFERENCES page ON DELETE CASCADE,
    because text[] NOT NULL DEFAULT '{}',
    chosen boolean,
    chosen_by bigint REFERENCES person,
    PRIMARY KEY (site_id, environment, page_id)
);
CREATE INDEX review_page_of_page ON review_page (page_id);
COMMENT ON TABLE review_page IS
'The pages that people are asked about: why one is proposed, and what a person decided of it.';
COMMENT ON COLUMN review_page.chosen IS 'A person took it in or left it out; null: as proposed.';

CREATE TABLE review_answer (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL CHECK (environment IN ('live', 'staging')),
    page_id bigint REFERENCES page ON DELETE CASCADE,
    question text NOT NULL,
    kind text NOT NULL,
    answer text NOT NULL CHECK (answer IN ('fine', 'fault', 'does-not-apply')),
    note text NOT NULL DEFAULT '',
    lens text NOT NULL CHECK (lens IN ('rendered', 'markup')),
    shown text REFERENCES page_evidence,
    shown_key text NOT NULL,
    answered_by bigint NOT NULL REFERENCES person,
    answered_at timestamptz NOT NULL DEFAULT now(),
    lapsed_at timestamptz,
    ended_at timestamptz,
    ended_by bigint REFERENCES person
);
CREATE UNIQUE INDEX review_answer_in_force
ON review_answer (site_id, environment, coalesce(page_id, 0), question) WHERE ended_at IS NULL;
CREATE INDEX review_answer_of_site ON review_answer (site_id, id DESC);
CREATE INDEX review_answer_of_page ON review_answer (page_id) WHERE page_id IS NOT NULL;
CREATE INDEX review_answer_of_shown ON review_answer (shown) WHERE shown IS NOT NULL;
COMMENT ON TABLE review_answer IS
'What people answered to questions about a page, or about the site (without a page), and on what.';
COMMENT ON COLUMN review_answer.kind IS 'The kind of evidence that the answer is tied to.';
COMMENT ON COLUMN review_answer.shown_key IS 'What that evidence was known by.';

CREATE TABLE review_fault (
    answer_id bigint NOT NULL REFERENCES review_answer ON DELETE CASCADE,
    position integer NOT NULL,
    weight text NOT NULL CHECK (weight IN ('barrier', 'obstacle', 'friction')),
    says text NOT NULL,
    place jsonb NOT NULL,
    PRIMARY KEY (answer_id, position)
);
COMMENT ON TABLE review_fault IS
'What is wrong by an answer, each with the row of evidence that it is about.';

CREATE TABLE review_hold (
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    environment text NOT NULL,
    page_id bigint REFERENCES page ON DELETE CASCADE,
    question text NOT NULL,
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    until timestamptz NOT NULL
);
CREATE UNIQUE INDEX review_hold_one
ON review_hold (site_id, environment, coalesce(page_id, 0), question);
CREATE INDEX review_hold_of_person ON review_hold (person_id);
CREATE INDEX review_hold_of_page ON review_hold (page_id) WHERE page_id IS NOT NULL;
COMMENT ON TABLE review_hold IS
'Who is looking at a question just now, so that it is not put to somebody else meanwhile.';

CREATE TABLE statement (
    id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    language text NOT NULL CHECK (language IN ('en', 'de')),
    body text NOT NULL,
    made_by bigint NOT NULL REFERENCES person,
    made_at timestamptz NOT NULL DEFAULT now(),
    published_by bigint REFERENCES person,
    published_at timestamptz
);
CREATE INDEX statement_of_site ON statement (site_id, id DESC);
COMMENT ON TABLE statement IS
'Versions of a site''s accessibility statement (Markdown): who wrote each, and who published it.';

CREATE TABLE way_put_away (
    site_id bigint PRIMARY KEY REFERENCES site ON DELETE CASCADE,
    by_id bigint NOT NULL REFERENCES person,
    at timestamptz NOT NULL DEFAULT now()
);
COMMENT ON TABLE way_put_away IS
'Sites whose way from registering to the gate nobody wants to see any more.';
