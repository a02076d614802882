"""Write a bill of materials (CycloneDX 1.6, JSON) of what the service is made from: the pinned
Python packages with their hashes, and what is bundled into the console.

``python scripts/make_sbom.py [FILE]``; default: standard output.
"""

from __future__ import annotations

import base64
import json
import re
import sys
from pathlib import Path
from typing import Any

ROOT = Path(__file__).parent.parent
PYTHON, CONSOLE = ROOT / "requirements/base-hashed.txt", ROOT / "console/package-lock.json"
_PIN = re.compile(r"^([A-Za-z0-9._-]+)==([^\s;\\]+)")
_HASH = re.compile(r"--hash=sha256:([0-9a-f]{64})")
_ALGORITHMS = {"sha512": "SHA-512", "sha256": "SHA-256", "sha1": "SHA-1"}


def python_packages() -> list[dict[str, Any]]:
    """Return the pinned Python packages; each of their files has a hash of its own."""
    found: list[dict[str, Any]] = []
    for line in PYTHON.read_text(encoding="utf-8").splitlines():
        if pin := _PIN.match(line):
            found.append(_component("pypi", pin[1], pin[2]))
        elif found and (digest := _HASH.search(line)):
            found[-1].setdefault("hashes", []).append({"alg": "SHA-256", "content": digest[1]})
    return found


def console_packages() -> list[dict[str, Any]]:
    """Return what is bundled into the console; what only builds it is left out."""
    packages = json.loads(CONSOLE.read_text(encoding="utf-8"))["packages"]
    found = []
    for place, told in sorted(packages.items()):
        if not place or told.get("dev") or told.get("optional"):
            continue
        name = place.rpartition("node_modules/")[2]
        component = _component("npm", name, told["version"])
        algorithm, _, digest = told.get("integrity", "").partition("-")
        if algorithm in _ALGORITHMS:
            content = base64.b64decode(digest).hex()
            component["hashes"] = [{"alg": _ALGORITHMS[algorithm], "content": content}]
        found.append(component)
    return found


def _component(kind: str, name: str, version: str) -> dict[str, Any]:
    package = f"pkg:{kind}/{name.replace('@', '%40')}@{version}"
    return {
        "type": "library",
        "bom-ref": package,
        "name": name,
        "version": version,
        "purl": package,
    }


def bill() -> dict[str, Any]:
    """Return the bill of materials."""
    version = re.search(
        r'__version__ = "([^"]+)"', (ROOT / "src/plumrake/__init__.py").read_text(encoding="utf-8")
    )
    assert version is not None
    return {
        "bomFormat": "CycloneDX",
        "specVersion": "1.6",
        "version": 1,
        "metadata": {
            "component": {"type": "application", "name": "plumrake", "version": version[1]}
        },
        "components": [*python_packages(), *console_packages()],
    }


if __name__ == "__main__":
    written = json.dumps(bill(), indent=2) + "\n"
    if len(sys.argv) > 1:
        Path(sys.argv[1]).write_text(written, encoding="utf-8")
    else:
        sys.stdout.write(written)
