"""The grammar of ``autocomplete`` (HTML Standard, 4.10.18.7): tokens, their order and the fields they fit."""

from __future__ import annotations

_TEXT = (
    "name honorific-prefix given-name additional-name family-name honorific-suffix nickname organization-title organization "
    "address-line1 address-line2 address-line3 address-level4 address-level3 address-level2 address-level1 country country-name "
    "postal-code cc-name cc-given-name cc-additional-name cc-family-name cc-number cc-csc cc-type transaction-currency language sex "
    "tel-country-code tel-national tel-area-code tel-local tel-local-prefix tel-local-suffix tel-extension"
)
_GROUPS: dict[str, tuple[str, str]] = {
    "text": (_TEXT, ""),
    "multiline": ("street-address", ""),
    "password": ("new-password current-password one-time-code", "password"),
    "username": ("username", "email tel"),
    "url": ("url photo impp", "url"),
    "email": ("email", "email"),
    "tel": ("tel", "tel"),
    "numeric": ("transaction-amount bday-day bday-month bday-year cc-exp-month cc-exp-year", "number"),
    "month": ("cc-exp", "month"),
    "date": ("bday", "date"),
}
_FITS: dict[str, frozenset[str]] = {
    token: frozenset(types.split()) | {"text", "search", "select", "textarea", "hidden"}
    for tokens, types in _GROUPS.values()
    for token in tokens.split()
} | {
    "cc-csc": frozenset(["text", "search", "select", "textarea", "hidden", "password", "number"]),
    "one-time-code": frozenset(["text", "search", "select", "textarea", "hidden", "password", "number", "tel"]),
}
_NUMBERS_TOO = frozenset(["cc-number", "postal-code", "tel-country-code", "tel-area-code", "tel-local", "tel-extension", "tel-national"])
_CONTACT = frozenset(["home", "work", "mobile", "fax", "pager"])
_WITH_CONTACT = frozenset(token for token in _FITS if token.startswith("tel") or token in ("email", "impp"))


def fault_of(value: str, kind: str) -> tuple[str, str] | None:
    """Return what is wrong with an ``autocomplete`` on a field of type ``kind``: ``unknown`` or ``unfit`` and the token, or None."""
    tokens = value.lower().split()
    if tokens in (["on"], ["off"]):
        return None
    if tokens and tokens[-1] == "webauthn":
        tokens.pop()
    if tokens and tokens[0].startswith("section-"):
        tokens.pop(0)
    if tokens and tokens[0] in ("shipping", "billing"):
        tokens.pop(0)
    contact = tokens.pop(0) if len(tokens) > 1 and tokens[0] in _CONTACT else ""
    if not tokens:
        return None
    if len(tokens) > 1 or tokens[0] not in _FITS:
        return "unknown", next((token for token in tokens if token not in _FITS), tokens[-1])
    token = tokens[0]
    if contact and token not in _WITH_CONTACT:
        return "unknown", contact
    fits = kind in _FITS[token] or (token in _NUMBERS_TOO and kind in ("tel", "number"))
    return None if fits else ("unfit", token)
