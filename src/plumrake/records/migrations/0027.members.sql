-- depends: 0026.tried_patterns
-- Sites are apart: who is there, as what. A person's own role holds in every site where they have
-- no other (for who manages every site, always); without one they are in the sites that they are
-- members of, and nowhere else.

ALTER TABLE person ALTER COLUMN role DROP NOT NULL;
COMMENT ON COLUMN person.role IS
'The role in every site, also in those to come, where there is no membership with another; null: '
'none. A manager of every site runs the service.';

CREATE TABLE membership (
    person_id bigint NOT NULL REFERENCES person ON DELETE CASCADE,
    site_id bigint NOT NULL REFERENCES site ON DELETE CASCADE,
    role text NOT NULL CHECK (role IN ('manager', 'editor', 'developer', 'reader')),
    added_by bigint REFERENCES person ON DELETE SET NULL,
    added_at timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (person_id, site_id)
);
COMMENT ON TABLE membership IS 'The role of a person in one site.';
CREATE INDEX membership_site ON membership (site_id);

ALTER TABLE invitation ADD COLUMN site_id bigint REFERENCES site ON DELETE CASCADE;
COMMENT ON COLUMN invitation.site_id IS
'The site that somebody is invited to with the role; null: to every one.';

CREATE FUNCTION role_in(asked_person bigint, asked_site bigint) RETURNS text
LANGUAGE sql STABLE AS $$
SELECT CASE WHEN p.role = 'manager' THEN p.role ELSE coalesce(m.role, p.role) END
FROM person p LEFT JOIN membership m ON m.person_id = p.id AND m.site_id = asked_site
WHERE p.id = asked_person
$$;
COMMENT ON FUNCTION role_in(bigint, bigint) IS
'The role of a person in a site; null: the site is not there for them. The one rule of who may '
'know what.';

CREATE FUNCTION sites_of(asked_person bigint) RETURNS SETOF bigint
LANGUAGE sql STABLE AS $$
SELECT s.id FROM site s WHERE role_in(asked_person, s.id) IS NOT NULL
$$;
COMMENT ON FUNCTION sites_of(bigint) IS 'The sites that are there for a person.';
