-- depends: 0030.read_by
-- A second wall between sites: what a transaction meets is what is there for the person that it is
-- for, whatever its query forgets. It stands before whoever does not own the tables: the service's
-- own role. The owner, and whoever may pass such walls (workers, copies), meet everything.

CREATE FUNCTION person_served() RETURNS bigint LANGUAGE sql STABLE AS $$
SELECT nullif(current_setting('plumrake.person', TRUE), '')::bigint
$$;
COMMENT ON FUNCTION person_served() IS 'The person whom the transaction is for; null: nobody.';

CREATE FUNCTION sees_all() RETURNS boolean
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT EXISTS (SELECT 1 FROM person p WHERE p.id = person_served() AND p.role IS NOT NULL)
$$;
COMMENT ON FUNCTION sees_all() IS
'Whether the transaction is for somebody who has a role in every site, also in those to come.';

CREATE FUNCTION sites_seen() RETURNS SETOF bigint
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT sites_of(person_served())
$$;
COMMENT ON FUNCTION sites_seen() IS 'The sites that are there for whom the transaction is for.';

ALTER TABLE site ENABLE ROW LEVEL SECURITY;
CREATE POLICY seen ON site USING ((SELECT sees_all()) OR id IN (SELECT sites_seen()));

DO $$
DECLARE
    name text;
    parent text[];
BEGIN
    FOREACH name IN ARRAY ARRAY[
        'archive', 'clearance', 'connection', 'correction', 'description', 'fix', 'item',
        'item_author', 'judgement', 'library_text', 'link_check', 'link_state', 'membership',
        'page', 'release', 'responsibility', 'review_answer', 'review_hold', 'review_page',
        'site_word', 'statement', 'sweep', 'tried_pattern', 'waiver', 'way_put_away', 'webhook',
        'writing'
    ] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', name);
        EXECUTE format(
            'CREATE POLICY seen ON %I USING ('
            '(SELECT sees_all()) OR site_id IN (SELECT sites_seen()))',
            name
        );
    END LOOP;
    FOREACH parent SLICE 1 IN ARRAY ARRAY[
        ['cause', 'sweep', 'sweep_id'],
        ['cause_picture', 'sweep', 'sweep_id'],
        ['finding', 'sweep', 'sweep_id'],
        ['handed_over', 'sweep', 'sweep_id'],
        ['reading', 'sweep', 'sweep_id'],
        ['sweep_event', 'sweep', 'sweep_id'],
        ['sweep_page', 'sweep', 'sweep_id'],
        ['correction_event', 'correction', 'correction_id'],
        ['delivery', 'webhook', 'webhook_id'],
        ['fix_event', 'fix', 'fix_id'],
        ['fix_place', 'fix', 'fix_id'],
        ['page_picture', 'reading', 'reading_id'],
        ['picture_text', 'finding', 'finding_id'],
        ['review_fault', 'review_answer', 'answer_id']
    ] LOOP
        EXECUTE format('ALTER TABLE %I ENABLE ROW LEVEL SECURITY', parent[1]);
        EXECUTE format(
            'CREATE POLICY seen ON %1$I USING ('
            '(SELECT sees_all()) OR EXISTS (SELECT 1 FROM %2$I up WHERE up.id = %1$I.%3$I))',
            parent[1],
            parent[2],
            parent[3]
        );
    END LOOP;
END
$$;

ALTER TABLE log_entry ENABLE ROW LEVEL SECURITY;
CREATE POLICY seen ON log_entry FOR SELECT
USING ((SELECT sees_all()) OR site_id IN (SELECT sites_seen()));
CREATE POLICY noted ON log_entry FOR INSERT WITH CHECK (TRUE);

ALTER VIEW clearance_row SET (security_invoker = TRUE);
ALTER VIEW correction_row SET (security_invoker = TRUE);
ALTER VIEW finding_row SET (security_invoker = TRUE);
ALTER VIEW fix_row SET (security_invoker = TRUE);
ALTER VIEW item_row SET (security_invoker = TRUE);
ALTER VIEW sweep_row SET (security_invoker = TRUE);

ALTER FUNCTION wants_second_factor(bigint, text[])
SECURITY DEFINER SET search_path = public, pg_temp;
ALTER FUNCTION note_change() SECURITY DEFINER SET search_path = public, pg_temp;

CREATE FUNCTION questions_waiting(whose bigint, on_behalf_of text, ahead boolean)
RETURNS TABLE (own integer, every integer)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT
    count(*) FILTER (
        WHERE c.asked_by = whose AND c.asked_for IS NOT DISTINCT FROM on_behalf_of
    )::integer,
    count(*)::integer
FROM clearance c
WHERE
    c.state = 'waiting'
    AND c.release_id IS NULL
    AND c.is_ahead = ahead
    AND c.asked_at > now() - interval '1 hour'
$$;
COMMENT ON FUNCTION questions_waiting(bigint, text, boolean) IS
'How many contents wait for their answer, or to be read ahead, of one asker and of all, of all '
'sites; pages of releases wait behind these, and those that wait for hours are lost.';

CREATE FUNCTION longest_waiting() RETURNS TABLE (question_seconds float, sweep_seconds float)
LANGUAGE sql STABLE SECURITY DEFINER SET search_path = public, pg_temp AS $$
SELECT
    (
        SELECT coalesce(extract(EPOCH FROM now() - min(c.asked_at)), 0)::float
        FROM clearance c
        WHERE
            c.state = 'waiting'
            AND c.release_id IS NULL
            AND NOT c.is_ahead
            AND c.asked_at > now() - interval '1 day'
    ),
    (
        SELECT coalesce(extract(EPOCH FROM now() - min(w.started_at)), 0)::float
        FROM sweep w
        WHERE w.state = 'running'
    )
$$;
COMMENT ON FUNCTION longest_waiting() IS
'How long the oldest question to the gate waits, and the oldest sweep is under way, of all sites.';

CREATE FUNCTION join_as_invited(asked_invitation bigint, new_person bigint) RETURNS void
LANGUAGE sql SECURITY DEFINER SET search_path = public, pg_temp AS $$
INSERT INTO membership (person_id, site_id, role)
SELECT
    p.id,
    i.site_id,
    i.role
FROM invitation i JOIN person p ON lower(p.email) = lower(i.email)
WHERE
    i.id = asked_invitation
    AND p.id = new_person
    AND i.site_id IS NOT NULL
    AND i.accepted_at IS NULL
    AND i.expires_at > now()
$$;
COMMENT ON FUNCTION join_as_invited(bigint, bigint) IS
'Makes whoever an open invitation to one site was written to a member of it.';
