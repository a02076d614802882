"""Run every benchmark and print what it measured."""

from bench import (
    console,
    contrast_pixels,
    gate,
    large_page,
    lsp,
    markup_pace,
    names_and_roles,
    patterns,
    rendered_pace,
    reports,
    spelling,
    whole_site,
    wordpress,
)

for module in (
    names_and_roles,
    contrast_pixels,
    large_page,
    lsp,
    rendered_pace,
    markup_pace,
    patterns,
    spelling,
    whole_site,
    console,
    gate,
    reports,
    wordpress,
):
    print(f"== {(module.__doc__ or '').splitlines()[0]}")
    module.main()
