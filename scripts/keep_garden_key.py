"""Writes the answer key of the garden's WordPress from a running ``plumrake demo wordpress``: what
is found in each item's content, public or not. To be read before it is committed."""

from __future__ import annotations

import json
from pathlib import Path

from plumrake.client import PlumRake
from plumrake.demo.wordpress.key import found_in_items
from plumrake.demo.wordpress.run import MANAGER, PASSWORD, SITE

KEY = Path("src/plumrake/demo/wordpress/answer_key.json")


def main() -> None:
    """Write the key."""
    with PlumRake("http://127.0.0.1:8620") as rake:
        rake.people.sign_in(f"{MANAGER}@tarnvale.example", PASSWORD)
        found = found_in_items(rake, SITE)
    KEY.write_text(json.dumps(found, indent=2, ensure_ascii=False) + "\n", encoding="utf-8")
    print(f"{sum(map(len, found.values()))} findings in {len(found)} items: {KEY}")


if __name__ == "__main__":
    main()
