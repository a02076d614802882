"""Templates: what is written in them is found and mended, and of what is filled in nothing is
claimed."""

from __future__ import annotations

import random
from textwrap import dedent

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plumrake.core.mending.edits import applied, ordered
from plumrake.core.policy import Policy
from plumrake.core.templates.kinds import Writing, template_of, writing_of
from plumrake.lsp.written import PLACEHOLDER, WrittenText

POLICY = Policy(without=("text/spelling",))


def found(text: str, writing: Writing) -> list[tuple[str, str]]:
    """Return the checks that find something, with what is written at each place."""
    written = WrittenText(text, POLICY, writing)
    return [(one.finding.check, text[slice(*one.span)]) for one in written.found]


NO_TEXT, VAGUE, NO_NAME = "pictures/no-text", "links/vague", "forms/button-no-name"
WRITTEN: list[tuple[Writing, str, list[tuple[str, str]]]] = [
    (
        "engine",
        '<img src="{{ photo.url }}">',
        [(NO_TEXT, '<img src="{{ photo.url }}">')],
    ),
    ("engine", '<a href="{% url "x" %}">click here</a>', [(VAGUE, '<a href="{% url "x" %}">')]),
    (
        "engine",
        "<h2 {% if a %}class='b'{% endif %}></h2>",
        [("headings/empty", "<h2 {% if a %}class='b'{% endif %}>")],
    ),
    ("engine", "{% for x in xs %}<img src=a.png>{% endfor %}", [(NO_TEXT, "<img src=a.png>")]),
    ("engine", "{{#each xs}}<button></button>{{/each}}", [(NO_NAME, "<button>")]),
    ("engine", "<?php foreach ($a as $b): ?><button></button>", [(NO_NAME, "<button>")]),
    (
        "html",
        '<html lang=""><body>{{ x }}<button></button>',
        [("page/no-language", '<html lang="">'), (NO_NAME, "<button>")],
    ),
    (
        "vue",
        '<template>\n<img :src="url" />\n<iframe :src="u" /><a v-bind:href="u">here</a>\n'
        "</template>\n",
        [
            (NO_TEXT, '<img :src="url" />'),
            ("page/frame-untitled", '<iframe :src="u" />'),
            (VAGUE, '<a v-bind:href="u">'),
        ],
    ),
    (
        "vue",
        '<template>\n<p :tabindex="3">x</p>\n</template>\n',
        [("keyboard/order-forced", '<p :tabindex="3">')],
    ),
    (
        "svelte",
        "<img {src}>{#if x}<button></button>{/if}",
        [(NO_TEXT, "<img {src}>"), (NO_NAME, "<button>")],
    ),
    (
        "jsx",
        'const x = <main><img src={a} /><a href={b}>here</a>{xs.map((x) => <button key="1"/>)}'
        "</main>;",
        [(NO_TEXT, "<img src={a} />"), (VAGUE, "<a href={b}>"), (NO_NAME, '<button key="1"/>')],
    ),
]


@pytest.mark.parametrize(("writing", "text", "wanted"), WRITTEN)
def test_what_is_written_is_found(
    writing: Writing, text: str, wanted: list[tuple[str, str]]
) -> None:
    assert found(text, writing) == wanted


UNKNOWN: list[tuple[Writing, str]] = [
    ("engine", '<img src="a.png" alt="{{ photo.says }}">'),
    ("engine", '<img src="a.png" alt="{% block alt %}{% endblock %}">'),
    ("engine", "<img src='a.png' {{ attributes }}>"),
    ("engine", "<h2>{% block heading %}{% endblock %}</h2>"),
    ("engine", "<a href='/x'>{{ title }}</a> <a href='/y'>{{ title }}</a>"),
    ("engine", "<ul>{% for x in xs %}<li>{{ x }}</li>{% endfor %}{% include 'y' %}</ul>"),
    ("engine", "<label for='a{{ n }}'>Name</label><input id='a{{ n }}'>"),
    ("engine", "{% if a %}<h1>A</h1>{% else %}<h1>B</h1>{% endif %}"),
    (
        "engine",
        "<table>{{ header }}<tr><td>1</td><td>2</td></tr><tr><td>1</td><td>2</td></tr></table>",
    ),
    ("engine", "<p>{{> part}}</p>{{!-- <button></button> --}}"),
    ("engine", "{% comment %}<button></button>{% endcomment %}{# <img> #}"),
    ("engine", '<a href="<?= $url ?>"><?php echo $title; ?></a>'),
    (
        "engine",
        "<input aria-label='{{ x }}' autocomplete='{{ y }}' role='{{ z }}' tabindex='{{ t }}'>",
    ),
    ("engine", "<a href='{{ url }}'>report {{ kind }}</a><a href='r.pdf'>{{ name }}</a>"),
    ("engine", "<p lang='{{ lang }}'>Words</p><html lang='{{ lang }}'>"),
    ("engine", "{% extends 'base.html' %}<p>Words of a part</p>"),
    ("vue", '<template>\n<img src="a.png" :alt="alt"><img v-bind="all">\n</template>'),
    ("vue", '<template>\n<h2 v-text="t"></h2><MyButton /><a href="/x"><slot /></a>\n</template>'),
    (
        "vue",
        "<script>\nconst a = '<button></button>'\n</script>\n<template>\n<p>x</p>\n</template>",
    ),
    ("svelte", "<img src='a.png' {alt}><img src='a.png' {...rest}><h2>{@html t}</h2>"),
    ("svelte", "<script>let a = '<button></button>'</script><h1>{a > b ? '}' : t}</h1>"),
    ("svelte", "{#if a}<h1>A</h1>{:else}<h1>B</h1>{/if}<Foo bind:x />"),
    ("jsx", "const a = <h1>{title}</h1>; const b = <h1>{other}</h1>;"),
    ("jsx", "const a = <img src={a} alt={b} />, c = <img {...props} />;"),
    ("jsx", "const a = <button><Icon name='x' /></button>;"),
    ("jsx", "const a = <div><label htmlFor={id}>Don't</label><input id={id} /></div>;"),
    ("jsx", "const r = /<button><\\/button>/, s = '<img>', f = <T,>(x: T) => x < 1 && x > 2;"),
    ("jsx", "const a = useState<string>('<img>'); type B = Map<string, number>;"),
    ("jsx", "const a = <p dangerouslySetInnerHTML={{__html: x}} />;"),
]


@pytest.mark.parametrize(("writing", "text"), UNKNOWN)
def test_nothing_is_claimed_of_what_is_filled_in(writing: Writing, text: str) -> None:
    assert found(text, writing) == []


def mended(text: str, writing: Writing) -> list[str]:
    """Return the text after each way to mend each finding."""
    written = WrittenText(text, POLICY, writing)
    return [applied(text, ordered(way.edits)) for one in written.found for way in written.ways(one)]


def test_mends_leave_the_engines_marks() -> None:
    """What is mended is the template; a mend that would lose a mark is not offered."""
    assert mended('<img src="{{ u }}">', "engine") == [
        f'<img src="{{{{ u }}}}" alt="{PLACEHOLDER}">',
        '<img src="{{ u }}" alt="">',
    ]
    emptied = mended("<h2>{% if a %}{% endif %}</h2>", "engine")
    assert emptied == [] or all("{% if a %}{% endif %}" in one for one in emptied)
    for after in mended("const a = <ul><li><a href={b}>here</a></li></ul>;", "jsx"):
        assert "href={b}" in after and "const a = <ul>" in after
    assert all("<button />" not in one for one in mended("const a = <button />;", "jsx"))


def test_says_what_the_template_says() -> None:
    """A finding quotes the template's own marks."""
    written = WrittenText('<img src="{{ photo.url }}">', POLICY, "engine")
    [one] = written.found
    assert "{{ photo.url }}" in one.finding.says
    assert one.finding.facts["file"] == "{{ photo.url }}"


@pytest.mark.parametrize(
    ("language", "address", "writing"),
    [
        ("html", "file:///a.html", "html"),
        ("markdown", "file:///a.txt", "markdown"),
        ("htmldjango", "file:///a.html", "engine"),
        ("html.handlebars", "file:///a", "engine"),
        ("php", "file:///a.php", "engine"),
        ("typescriptreact", "file:///a.tsx", "jsx"),
        ("", "file:///a.svelte", "svelte"),
        ("plaintext", "file:///a.vue", "vue"),
        ("", "untitled:1", "html"),
    ],
)
def test_language(language: str, address: str, writing: Writing) -> None:
    assert writing_of(language, address) == writing


PIECES = [
    "{{ a }}", "{% if x %}", "{% else %}", "{% endif %}", "{#", "#}", "<?php echo 1 ?>", "<?php",
    "{", "}", "{a}", "{...b}", "{`${c}`}", "<p>", "</p>", "<img src={d} />", "<A b={<c/>}>", "</A>",
    "<>", "</>", "<template>\n", "</template>\n", '<i :a="b" @c="d">', "<iframe/>", "<script>", "'",
    '"', "`", "/", "//", "/*", "*/", "return ", "(", ")", "=>", "=", "x", " ", "\n", "𗀀",
    "<table>", "<tr>", "<ul>", "<li>", "<!--", "-->",
]  # fmt: skip


@settings(max_examples=400, deadline=None)
@given(
    st.lists(st.sampled_from(PIECES), max_size=14).map("".join),
    st.sampled_from(["engine", "vue", "svelte", "jsx"]),
)
def test_any_text_keeps_its_length_and_lines(text: str, writing: Writing) -> None:
    """Whatever is typed, offsets are those of the template, and it can be read."""
    template = template_of(text, writing)
    assert template is not None
    assert len(template.shown) == len(text)
    written = WrittenText(text, POLICY, writing)
    for one in written.found:
        assert 0 <= one.span[0] <= one.span[1] <= len(text)
        for way in written.ways(one):
            assert all(text[edit.start : edit.end] == edit.before for edit in way.edits)


def test_prefixes_of_a_module_are_read_in_time() -> None:
    """A long module, broken off anywhere."""
    line = "  <li key={i}><a href={i.url} onClick={() => go(`${i}`)}>{i.name}</a> {/* n */}</li>\n"
    module = dedent("""\
        export const A = () => (
        <ul>
        """) + line * 2_000 + "</ul>\n);\n"  # fmt: skip
    chance = random.Random(3)
    for _ in range(3):
        text = module[: chance.randrange(len(module))]
        template = template_of(text, "jsx")
        assert template is not None and len(template.shown) == len(text)
