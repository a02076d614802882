"""Language tags: BCP 47's form, and the primary subtags that IANA's registry holds."""

from __future__ import annotations

import re
from collections.abc import Mapping
from functools import cache
from importlib.resources import files

NAMES: Mapping[str, str] = {
    "ar": "Arabic",
    "bg": "Bulgarian",
    "bn": "Bengali",
    "ca": "Catalan",
    "cs": "Czech",
    "cy": "Welsh",
    "da": "Danish",
    "de": "German",
    "el": "Greek",
    "en": "English",
    "es": "Spanish",
    "et": "Estonian",
    "eu": "Basque",
    "fa": "Persian",
    "fi": "Finnish",
    "fr": "French",
    "ga": "Irish",
    "gd": "Scottish Gaelic",
    "gl": "Galician",
    "gu": "Gujarati",
    "he": "Hebrew",
    "hi": "Hindi",
    "hr": "Croatian",
    "hu": "Hungarian",
    "hy": "Armenian",
    "id": "Indonesian",
    "is": "Icelandic",
    "it": "Italian",
    "ja": "Japanese",
    "ka": "Georgian",
    "ko": "Korean",
    "la": "Latin",
    "lt": "Lithuanian",
    "lv": "Latvian",
    "mk": "Macedonian",
    "mt": "Maltese",
    "nl": "Dutch",
    "no": "Norwegian",
    "pa": "Punjabi",
    "pl": "Polish",
    "pt": "Portuguese",
    "ro": "Romanian",
    "ru": "Russian",
    "sk": "Slovak",
    "sl": "Slovenian",
    "so": "Somali",
    "sq": "Albanian",
    "sr": "Serbian",
    "sv": "Swedish",
    "sw": "Swahili",
    "ta": "Tamil",
    "te": "Telugu",
    "th": "Thai",
    "tl": "Tagalog",
    "tr": "Turkish",
    "uk": "Ukrainian",
    "ur": "Urdu",
    "vi": "Vietnamese",
    "zh": "Chinese",
}
"""English names of the languages that are told apart by their letters, by primary subtag."""
_WELL_FORMED = re.compile(
    r"(?:[a-z]{2,3}(?:-[a-z]{3}){0,3}|[a-z]{4,8})(?:-[a-z]{4})?(?:-(?:[a-z]{2}|\d{3}))?"
    r"(?:-(?:[a-z0-9]{5,8}|\d[a-z0-9]{3}))*(?:-[0-9a-wy-z](?:-[a-z0-9]{2,"
    r"8})+)*(?:-x(?:-[a-z0-9]{1,8})+)?",
    re.ASCII | re.IGNORECASE,
)
_GRANDFATHERED = frozenset(
    (
        "en-gb-oed i-ami i-bnn i-default i-enochian i-hak i-klingon i-lux i-mingo i-navajo i-pwn "
        "i-tao i-tay i-tsu sgn-be-fr sgn-be-nl sgn-ch-de art-lojban cel-gaulish no-bok no-nyn "
        "zh-guoyu zh-hakka zh-min zh-min-nan zh-xiang"
    ).split()
)


_ENDONYMS: Mapping[str, str] = {
    "cymraeg": "cy",
    "deutsch": "de",
    "español": "es",
    "français": "fr",
    "gaeilge": "ga",
    "italiano": "it",
    "nederlands": "nl",
    "polski": "pl",
    "português": "pt",
    "svenska": "sv",
}


def near_tag(tag: str) -> str | None:
    """Return the one valid tag that a faulty one was plainly meant to be (``en_GB``, ``english``),
    or None."""
    plain = tag.strip().replace("_", "-").strip("-")
    if plain and plain != tag and fault_of_tag(plain) is None:
        return plain
    name = plain.casefold()
    named = next((code for code, one in NAMES.items() if one.casefold() == name), None)
    return named or _ENDONYMS.get(name)


@cache
def _registered() -> frozenset[str]:
    return frozenset(
        files(__package__).joinpath("language_subtags.txt").read_text(encoding="ascii").split()
    )


def fault_of_tag(tag: str) -> str | None:
    """Return what is wrong with a language tag: ``form`` (RFC 5646, 2.1), ``unknown`` (not in
    IANA's registry), or None."""
    small = tag.strip().lower()
    if not _WELL_FORMED.fullmatch(small) and small not in _GRANDFATHERED:
        return "form"
    primary = small.partition("-")[0]
    private_use = len(primary) == 3 and "qaa" <= primary <= "qtz"
    return None if private_use or primary in _registered() else "unknown"


def name_of_language(tag: str) -> str:
    """Return the English name of a tag's language, or the tag where none is known here."""
    return NAMES.get(tag.lower().partition("-")[0], tag)
