"""Rows for benchmarks of fixes: a site with so many findings, causes and fixes, put straight into
the database."""

from __future__ import annotations

import psycopg

SITE = "made"

_ROWS = """
INSERT INTO person (email, name, role, password_hash)
SELECT 'editor' || n || '@harrowmere.example', 'Editor ' || n, 'editor', 'none' FROM generate_series(1, {people}) n;
INSERT INTO site (slug, name, live_address, found_by, private_leave) VALUES ('made', 'Made Canal', 'http://127.0.0.1:9/', 'sitemap', true);
INSERT INTO page (site_id, path)
SELECT s.id, '/section-' || n % 40 || '/page-' || n || '/' FROM site s, generate_series(1, {pages}) n WHERE s.slug = 'made' ORDER BY n;
INSERT INTO sweep (site_id, environment, lens, state, policy, total, read, started_at, finished_at, batches)
SELECT id, 'live', 'rendered', 'done', '{{}}', {pages}, {pages}, now() - interval '1 hour', now(), 1 FROM site WHERE slug = 'made';
INSERT INTO reading (sweep_id, page_id, address, lens, status, title, language, elements, untested, ready, ready_alone, seconds)
SELECT w.id, p.id, 'http://127.0.0.1:9' || p.path, 'rendered', 'read', 'Page ' || p.id, 'en', 500, '[]', false, false, 1
FROM sweep w JOIN page p ON p.site_id = w.site_id;
INSERT INTO sweep_page (sweep_id, page_id, batch, position) SELECT w.id, p.id, 0, p.id FROM sweep w JOIN page p ON p.site_id = w.site_id;
INSERT INTO finding (reading_id, sweep_id, page_id, ordinal, check_id, outcome, weight, criteria, says, selector, visible, excerpt, facts, mends,
    place_key, cause_key, cause, zone, standing)
SELECT r.id, r.sweep_id, r.page_id, r.page_id * 1000000 + n,
    (ARRAY['links/vague', 'pictures/no-text', 'contrast/text', 'headings/level-jump', 'text/tiny', 'forms/no-label'])[1 + (r.page_id + n) % 6],
    CASE WHEN (r.page_id + n) % 11 = 0 THEN 'cantTell' ELSE 'failed' END, (ARRAY['barrier', 'obstacle', 'friction'])[1 + (r.page_id + n) % 3],
    '{{1.1.1}}', 'Something is wrong with place ' || n, 'main > p:nth-of-type(' || n || ')', true, '<p>', '{{}}', '[{{"says": "Mend it."}}]',
    md5(r.page_id || ' ' || n), 'cause-' || (r.page_id * {per_page} + n) % {causes}, 'cause-' || (r.page_id * {per_page} + n) % {causes}, 'content',
    CASE WHEN (r.page_id + n) % 11 = 0 THEN 'doubtful' ELSE 'counts' END
FROM reading r, generate_series(1, {per_page}) n;
UPDATE sweep SET counted = jsonb_build_object('barriers', {pages} * {per_page} / 3, 'obstacles', {pages} * {per_page} / 3, 'frictions', {pages} * {per_page} / 3,
    'doubtful', {pages} * {per_page} / 11, 'waived', 0);
INSERT INTO cause (sweep_id, key, position, check_id, outcome, weight, zone, by_template, places, pages, best, first_sweep, first_seen_at)
SELECT f.sweep_id, f.cause, row_number() OVER (ORDER BY count(*) DESC, f.cause), min(f.check_id), 'failed', min(f.weight), 'content', false, count(*),
    count(DISTINCT f.page_id), min(f.id), f.sweep_id, now() FROM finding f GROUP BY f.sweep_id, f.cause;
INSERT INTO fix (site_id, environment, cause, check_id, weight, rank, says, zone, by_template, path, places, pages, owner_id, due_on, finding_id, state,
    changed_at)
SELECT w.site_id, 'live', c.key, c.check_id, c.weight, array_position(ARRAY['barrier', 'obstacle', 'friction'], c.weight), f.says, 'content', false, p.path,
    c.places, c.pages, (SELECT min(id) FROM person WHERE role = 'editor') + c.position % {people}, CURRENT_DATE + (c.position % 60)::int - 10, c.best,
    CASE WHEN {live} THEN 'open' ELSE (ARRAY['open', 'in_hand', 'handed_in', 'proven', 'reopened', 'waived'])[1 + c.position % 6] END,
    now() - make_interval(mins => c.position)
FROM cause c JOIN sweep w ON w.id = c.sweep_id JOIN finding f ON f.id = c.best JOIN page p ON p.id = f.page_id;
INSERT INTO fix_place (fix_id, page_id, place_key) SELECT x.id, f.page_id, f.place_key FROM fix x JOIN finding f ON f.cause = x.cause ON CONFLICT DO NOTHING;
INSERT INTO fix_event (fix_id, move, before, after, actor, data)
SELECT id, 'make', '', 'open', 'manager', '{{}}' FROM fix;
ANALYZE
"""  # noqa: E501


def fill(database: str, *, pages: int, per_page: int, causes: int, people: int, live: bool) -> None:
    """Put ``pages`` × ``per_page`` findings with ``causes`` causes and a fix of each into an empty
    database; ``live``: all fixes are open."""
    text = _ROWS.format(
        pages=pages, per_page=per_page, causes=causes, people=people, live=str(live).lower()
    )
    with psycopg.connect(database, autocommit=True) as connection:
        for statement in text.split(";\n"):
            connection.execute(statement)
