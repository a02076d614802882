"""Build the VS Code extension into one file: ``scripts/build_vscode.py [FILE]``.

A ``.vsix`` is a zip (Open Packaging Conventions) of the extension below ``extension/``, with a
manifest beside it. The same sources give the same bytes.
"""

from __future__ import annotations

import json
import subprocess
import sys
import zipfile
from pathlib import Path
from string import Template
from xml.sax.saxutils import escape, quoteattr

FOLDER = Path(__file__).resolve().parent.parent / "editors" / "vscode"
_TYPES = """<?xml version="1.0" encoding="utf-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">
<Default Extension="json" ContentType="application/json"/>
<Default Extension="js" ContentType="application/javascript"/>
<Default Extension="md" ContentType="text/markdown"/>
<Default Extension="vsixmanifest" ContentType="text/xml"/>
</Types>
"""
_BEGINNING = (1980, 1, 1, 0, 0, 0)


def main(target: Path) -> None:
    """Install what the extension is bundled from, bundle it, and write the file."""
    if not (FOLDER / "node_modules" / "esbuild").is_dir():
        _run("npm", "ci", "--no-audit", "--no-fund", "--ignore-scripts", "--silent")
    _run("npm", "run", "--silent", "build")
    about = json.loads((FOLDER / "package.json").read_text(encoding="utf-8"))
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        _add(archive, "extension.vsixmanifest", _manifest(about))
        _add(archive, "[Content_Types].xml", _TYPES)
        for name in ("package.json", "README.md", "out/extension.js"):
            _add(archive, f"extension/{name}", (FOLDER / name).read_text(encoding="utf-8"))


def _run(*command: str) -> None:
    subprocess.run(command, cwd=FOLDER, check=True)


def _add(archive: zipfile.ZipFile, name: str, text: str) -> None:
    entry = zipfile.ZipInfo(name, _BEGINNING)
    entry.compress_type = zipfile.ZIP_DEFLATED
    archive.writestr(entry, text)


def _manifest(about: dict[str, object]) -> str:
    said = {name: quoteattr(str(about[name])) for name in ("name", "version", "publisher")}
    engine = quoteattr(str(dict(about["engines"])["vscode"]))  # type: ignore[call-overload]
    said |= {name: escape(str(about[name])) for name in ("displayName", "description")}
    template = (FOLDER / "manifest.xml").read_text(encoding="utf-8")
    return Template(template).substitute(said, engine=engine)


if __name__ == "__main__":
    main(Path(sys.argv[1]) if len(sys.argv) > 1 else FOLDER / "plumrake.vsix")
