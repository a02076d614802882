"""Whether a text is a file name, an address or an identifier rather than words."""

from __future__ import annotations

import re

_ENDING = (
    r"\.(?:jpe?g|jpe|jfif|png|gif|svgz?|webp|avif|bmp|tiff?|heic|heif|ico|psd|eps|raw|cr2|"
    r"nef|pdf|mp4|mov)"
)
_FILE = re.compile(rf"[^\s/\\]+{_ENDING}(?=$|[\s)\],;:!?\"'?#])", re.I)
_WITH_SPACES = re.compile(rf"[^/\\]+{_ENDING}", re.I)
_ADDRESS = re.compile(
    (
        r"(?:https?:)?//\S+|(?:[a-z]:\\|\.{0,2}/)?(?:[\w%.~-]+[/\\]){1,}[\w%.~-]+\.\w{2,5}|"
        r"/(?:[\w%.~-]+/)+[\w%.~-]*"
    ),
    re.I,
)
_CAMERA = re.compile(
    r"\b(?:[ps]?_?img|image|images|dsc[nf]?|dscf|dcim|pxl|gopr?|gp|mvi|mov|vid|sam|cimg|imgp|"
    r"kif|wp|pict?|photo|picture|scan|screenshot|"
    r"screen[ _-]?shot|unnamed|untitled|download|file|upload|dji|p(?=\d{6}))[ "
    r"_-]?\(?\d{3,}[\d _-]*\)?(?:[ _-]?(?:edited|copy|final|scaled|large|small|v?\d+))*",
    re.I,
)
_DIGEST = re.compile(
    (
        r"\b(?:[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}|"
        r"(?=[0-9a-f]*\d)(?=[0-9a-f]*[a-f])[0-9a-f]{16,})\b"
    ),
    re.I,
)
_SLUG = re.compile(r"[a-z0-9]+(?:[_-]+[a-z0-9]+)+", re.I)
_MACHINE_PART = re.compile(
    (
        r"(?:^|[_-])(?:\d+x\d+|v\d+|final|copy|scaled|thumb(?:nail)?|small|large|edited|web|"
        r"lowres|hires|\d{4,})(?:[_-]|$)"
    ),
    re.I,
)


def what_it_is(name: str, file: str) -> tuple[str, str] | None:
    """Return the message and the matched part where a file name, address or identifier makes up
    most of ``name``."""
    for message, pattern in (
        ("address", _ADDRESS),
        ("file", _FILE),
        ("digest", _DIGEST),
        ("camera", _CAMERA),
    ):
        match = pattern.search(name)
        if match and _dominates(match.group(), name):
            return message, match.group()
    if (
        _WITH_SPACES.fullmatch(name)
        and len(name.split()) <= 6
        and not re.search(r"[.!?,;:]\s", name)
    ):
        return "file", name
    stem = file.rpartition(".")[0]
    if _SLUG.fullmatch(name) and (
        _MACHINE_PART.search(name) or "_" in name or (stem and name.casefold() == stem.casefold())
    ):
        return "file", name
    return None


def _dominates(part: str, whole: str) -> bool:
    """Tell whether ``part`` is most of ``whole``: at most two short words are left beside it."""
    rest = re.findall(r"\w+", whole.replace(part, " ", 1))
    return len(rest) <= 2 and sum(map(len, rest)) < len(part)
