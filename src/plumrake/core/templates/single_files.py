"""Single files of components: Vue and Svelte, by the markup in them."""

from __future__ import annotations

import re

from plumrake.core.html_source import Attribute, StartTag, every_tag, start_tag_at
from plumrake.core.templates.expressions import Broken, as_text, as_value, end_of_braces
from plumrake.core.templates.marks import Masking, Template
from plumrake.core.vocabulary import VOID_ELEMENTS

_MUSTACHE = re.compile(r"\{\{.*?\}\}", re.DOTALL)
_RAW_PART = re.compile(r"<(script)\b[^>]*>.*?(?:</\1\s*>|\Z)", re.DOTALL | re.IGNORECASE)
_NOTE = re.compile(r"<!--.*?(?:-->|\Z)", re.DOTALL)
_BOUND = re.compile(r"\A(?:v-bind:|:|\.)(?P<name>[A-Za-z][\w-]*)(?:\.\w+)*\Z")
_FILLS_CONTENT = frozenset(["v-text", "v-html", "v-bind", "v-on"])
_OTHERWISE = frozenset(["v-else", "v-else-if"])
_PLAIN_NAME = re.compile(r"[A-Za-z_$][\w$]*\Z")


def vue(text: str) -> Template:
    """Return a single-file component of Vue: what its outermost ``template`` holds."""
    masking = Masking(text)
    span = _template_of(text)
    masking.blank(0, span[0])
    masking.blank(span[1], len(text))
    for found in _MUSTACHE.finditer(text, *span):
        masking.fill(*found.span())
    shown = masking.shown
    for start, end, _, closes in every_tag(shown, masking.closed):
        name = _name_at(text, start, closes=closes)
        if name.lower() == "template":
            masking.blank(start, end)
        elif _is_component(name) or "-" in name:
            masking.fill(start, end)
        elif not closes and (tag := start_tag_at(shown, start)) is not None:
            _vue_attributes(masking, tag)
            _close(masking, tag)
    return masking.done()


def _template_of(text: str) -> tuple[int, int]:
    """Return the span within the outermost ``template``; of a file without one, all of it."""
    begin = re.search(r"^<template\b[^>]*>", text, re.MULTILINE | re.IGNORECASE)
    if begin is None:
        return 0, len(text)
    closes = [*re.finditer(r"^</template\s*>", text, re.MULTILINE | re.IGNORECASE)]
    return begin.end(), closes[-1].start() if closes else len(text)


def _name_at(text: str, start: int, *, closes: bool) -> str:
    found = re.compile(r"[A-Za-z][^\s/>]*").match(text, start + (2 if closes else 1))
    return found.group() if found is not None else ""


def _is_component(name: str) -> bool:
    return name[:1].isupper() or "." in name or ":" in name or name in ("slot", "component")


def _close(masking: Masking, tag: StartTag) -> None:
    if masking.text[: tag.end].endswith("/>") and tag.name not in VOID_ELEMENTS:
        masking.closed.add(tag.start)


def _vue_attributes(masking: Masking, tag: StartTag) -> None:
    for one in tag.attributes:
        masking.has_alternatives |= one.name in _OTHERWISE
        if one.name in _FILLS_CONTENT or one.name.startswith((":[", "v-bind:[")):
            masking.fill(one.start, one.end)
        elif (
            bound := _BOUND.match(masking.text[one.start : _name_end(masking.text, one)])
        ) is not None:
            _bind(masking, one, bound)


def _name_end(text: str, one: Attribute) -> int:
    at = text.find("=", one.start, one.end)
    return at if at >= 0 else one.end


def _bind(masking: Masking, one: Attribute, bound: re.Match[str]) -> None:
    """Show a bound attribute by its own name, its value unknown unless it is written there."""
    masking.blank(one.start, one.start + bound.start("name"))
    masking.blank(one.start + bound.end("name"), one.start + bound.end())
    if not one.quote:
        masking.fill(one.value_start, one.value_end)
        return
    inner = masking.text[one.value_start : one.value_end]
    said = as_value(inner)
    if said is None:
        masking.fill(one.value_start, one.value_end)
    else:
        masking.put(one.value_start - 1, said)


def svelte(text: str) -> Template:
    """Return a single-file component of Svelte: all but its scripts."""
    masking = Masking(text)
    at, in_tag, quote = 0, False, ""
    while at < len(text):
        letter = text[at]
        skipped = None if in_tag else _RAW_PART.match(text, at) or _NOTE.match(text, at)
        if skipped is not None:
            if not skipped.group().startswith("<!--"):
                masking.blank(*skipped.span())
            at = skipped.end()
        elif letter == "{":
            at = _svelte_braces(masking, at, in_tag=in_tag, quote=quote)
        else:
            if quote:
                quote = "" if letter == quote else quote
            elif in_tag:
                quote = letter if letter in "\"'" else ""
                in_tag = letter != ">"
            else:
                in_tag = letter == "<" and text[at + 1 : at + 2].isalpha()
            at += 1
    shown = masking.shown
    for start, end, _, closes in every_tag(shown, masking.closed):
        if _is_component(_name_at(text, start, closes=closes)):
            masking.fill(start, end)
        elif not closes and (tag := start_tag_at(shown, start)) is not None:
            _close(masking, tag)
    return masking.done()


def _svelte_braces(masking: Masking, start: int, *, in_tag: bool, quote: str) -> int:
    """Make what stands in braces opaque; return the offset behind it."""
    text = masking.text
    try:
        end = end_of_braces(text, start)
    except Broken:
        masking.blank(start, len(text))
        return len(text)
    inner = text[start + 1 : end - 1]
    if inner.startswith(("#", "/", ":", "@const", "@debug")):
        masking.has_alternatives |= inner.startswith((":else", ":then", ":catch"))
        masking.blank(start, end)
    elif quote or inner.startswith("@"):
        masking.fill(start, end)
    elif in_tag and text[start - 1] != "=":
        if _PLAIN_NAME.match(inner):
            masking.name_value(start, end, inner)
        else:
            masking.fill(start, end)
    else:
        said = as_value(inner) if in_tag else as_text(inner)
        if said is None:
            masking.fill(start, end)
        else:
            masking.put(start, said)
    return end
