"""The grammar of ``autocomplete`` (HTML Standard, 4.10.18.7): tokens, their order and the fields
they fit."""

from __future__ import annotations

_TEXT = (
    "name honorific-prefix given-name additional-name family-name honorific-suffix nickname "
    "organization-title organization "
    "address-line1 address-line2 address-line3 address-level4 address-level3 address-level2 "
    "address-level1 country country-name "
    "postal-code cc-name cc-given-name cc-additional-name cc-family-name cc-number cc-csc "
    "cc-type transaction-currency language sex "
    "tel-country-code tel-national tel-area-code tel-local tel-local-prefix tel-local-suffix "
    "tel-extension"
)
_GROUPS: dict[str, tuple[str, str]] = {
    "text": (_TEXT, "text search"),
    "multiline": ("street-address", ""),
    "password": ("new-password current-password one-time-code", "text search password"),
    "username": ("username", "text search email"),
    "url": ("url photo impp", "text search url"),
    "email": ("email", "text search email"),
    "tel": ("tel", "text search tel"),
    "numeric": (
        "transaction-amount bday-day bday-month bday-year cc-exp-month cc-exp-year",
        "text search number",
    ),
    "month": ("cc-exp", "text search month"),
    "date": ("bday", "text search date"),
}
_LINES = frozenset(["select", "textarea", "hidden"])
"""The fields of every group (HTML Standard, 4.10.18.7.1)."""
_FITS: dict[str, frozenset[str]] = {
    token: _LINES | frozenset(types.split())
    for tokens, types in _GROUPS.values()
    for token in tokens.split()
}
_TYPED_AS_TELEPHONE = frozenset(
    (
        "cc-number cc-csc postal-code one-time-code tel-country-code tel-area-code tel-local "
        "tel-extension tel-national"
    ).split()
)
"""Digits for which ``type=tel`` is in use for its keys; browsers fill these in all the same."""
_CONTACT = frozenset(["home", "work", "mobile", "fax", "pager"])
_WITH_CONTACT = frozenset(
    token for token in _FITS if token.startswith("tel") or token in ("email", "impp")
)


def fault_of(value: str, kind: str) -> tuple[str, str] | None:
    """Return what is wrong with an ``autocomplete`` on a field of type ``kind``: ``unknown`` or
    ``unfit`` and the token, or None."""
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
    fits = kind in _FITS[token] or (kind == "tel" and token in _TYPED_AS_TELEPHONE)
    return None if fits else ("unfit", token)
