"""What the service is made from is told in full: pins with hashes, and the bill of materials."""

from __future__ import annotations

import json
import re
import subprocess
import sys
import tomllib
from pathlib import Path

ROOT = Path(__file__).parent.parent


def pins(name: str) -> set[str]:
    text = (ROOT / "requirements" / name).read_text(encoding="utf-8")
    return set(re.findall(r"^[A-Za-z0-9._-]+==[^\s;\\]+", text, re.MULTILINE))


def test_every_pin_has_a_hash() -> None:
    """The hashed pins are those that the service is tested with."""
    assert pins("base-hashed.txt") == pins("base.txt")
    text = (ROOT / "requirements/base-hashed.txt").read_text(encoding="utf-8")
    parts = re.split(r"^(?=[A-Za-z0-9])", text, flags=re.MULTILINE)[1:]
    assert all("--hash=sha256:" in part for part in parts)


def test_the_wheel_asks_for_what_the_service_needs() -> None:
    """Whatever is pinned is named by the package itself."""

    def names(words: list[str]) -> set[str]:
        return {re.split(r"[=<>\[]", word)[0] for word in words}

    wanted = (ROOT / "requirements/base.in").read_text(encoding="utf-8").split()
    package = tomllib.loads((ROOT / "pyproject.toml").read_text(encoding="utf-8"))
    assert names(wanted) <= names(package["project"]["dependencies"])


def test_the_bill_of_materials_lists_what_is_installed() -> None:
    done = subprocess.run(
        [sys.executable, ROOT / "scripts/make_sbom.py"], capture_output=True, check=True
    )
    bill = json.loads(done.stdout)
    assert (bill["bomFormat"], bill["specVersion"]) == ("CycloneDX", "1.6")
    named = {f"{one['name']}=={one['version']}" for one in bill["components"]}
    assert pins("base.txt") <= named
    assert any(one["purl"].startswith("pkg:npm/vue@") for one in bill["components"])
    assert all(one["hashes"] for one in bill["components"])
    assert len({one["bom-ref"] for one in bill["components"]}) == len(bill["components"])
