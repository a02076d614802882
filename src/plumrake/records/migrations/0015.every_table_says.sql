-- depends: 0014.mended_since
-- Every table says in one line what it holds; docs/data.md is made from that.

COMMENT ON TABLE archive IS 'The zip that pages of a site come from, where they come from one.';
COMMENT ON TABLE cause IS 'What the findings of a sweep go back to, each once, with its reach.';
COMMENT ON TABLE cause_picture IS 'Pictures cut out of pages that show some places of a cause.';
COMMENT ON TABLE clearance IS
'What the gate was asked about a page and answered, with what it judged by.';
COMMENT ON TABLE delivery IS
'An event on its way to a webhook: how often it was tried, and when it arrived.';
COMMENT ON TABLE evidence IS 'Pictures, each content once, by their hash.';
COMMENT ON TABLE finding IS
'What a check said about a place of a page, with what became of it (standing).';
COMMENT ON TABLE fix IS 'A promise to mend a cause, or one place: who, by when, and how far it is.';
COMMENT ON TABLE fix_event IS
'Every move of a fix: who made it, from which state to which, and why.';
COMMENT ON TABLE fix_place IS
'The places that a fix is about, and whether the last reading still showed them.';
COMMENT ON TABLE idempotency IS 'Answers to requests that may be sent twice, by their key.';
COMMENT ON TABLE inventory IS
'What views of the whole site count on a page: pictures, links, colours, builds.';
COMMENT ON TABLE invitation IS 'Who was asked in, as what, until when.';
COMMENT ON TABLE judgement IS
'An answer of a person to a doubtful finding, which holds while what was judged is as it was.';
COMMENT ON TABLE notification IS 'What a person is told about a fix.';
COMMENT ON TABLE page IS 'An address of a site, over all its sweeps.';
COMMENT ON TABLE people_group_member IS 'Who belongs to a group.';
COMMENT ON TABLE person IS 'Who may sign in, as what.';
COMMENT ON TABLE reading IS
'One page as a sweep read it: what came, through which lens, and whether it is ready.';
COMMENT ON TABLE release IS 'Pages that the gate was asked about together.';
COMMENT ON TABLE responsibility IS 'Who answers for which part of a site, by patterns of paths.';
COMMENT ON TABLE saved_filter IS 'A filter of a view of a site that a person keeps under a name.';
COMMENT ON TABLE session IS 'A sign-in of a person in a browser.';
COMMENT ON TABLE sign_in_attempt IS 'Failed sign-ins, so that guessing is slowed.';
COMMENT ON TABLE site IS 'A site that is read: its addresses, its policy, its pace.';
COMMENT ON TABLE sweep IS
'A reading of a site, of a part of it, or of given pages, with its counts.';
COMMENT ON TABLE sweep_event IS 'What a sweep tells of its progress.';
COMMENT ON TABLE sweep_page IS
'The pages a sweep is to read, in their order, and how each was found.';
COMMENT ON TABLE token IS 'Secrets of programs, hashed, and what they may do.';
COMMENT ON TABLE waiver IS
'What a site accepts until a day, and why: a place, a page, a cause, or a check in a part of it.';
COMMENT ON TABLE webhook IS 'An address of a program that hears of events of a site.';
