"""The extension for VS Code: built by one command, and started with a stand-in for the editor's own
interface; the client library and the server are the real ones."""

from __future__ import annotations

import json
import os
import subprocess
import sys
import zipfile
from pathlib import Path
from xml.etree import ElementTree as ET

import pytest

from plumrake.core.templates.kinds import writing_of

ROOT = Path(__file__).resolve().parents[2]
TOOLS = {**os.environ, "PATH": f"{Path(sys.executable).parent}{os.pathsep}{os.environ['PATH']}"}


@pytest.fixture(scope="module")
def extension(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of the unpacked extension."""
    folder = tmp_path_factory.mktemp("vscode")
    built = folder / "plumrake.vsix"
    command = [sys.executable, str(ROOT / "scripts" / "build_vscode.py"), str(built)]
    subprocess.run(command, env=TOOLS, check=True)
    with zipfile.ZipFile(built) as archive:
        archive.extractall(folder)
    return folder


def test_package(extension: Path) -> None:
    """The manifest names the extension, its version is the product's, and each language is one that
    the server reads as itself."""
    manifest = ET.parse(extension / "extension.vsixmanifest")
    identity = manifest.find(".//{*}Identity")
    about = json.loads((extension / "extension" / "package.json").read_text(encoding="utf-8"))
    assert identity is not None
    assert identity.get("Id") == about["name"] == "plumrake"
    languages = [one.removeprefix("onLanguage:") for one in about["activationEvents"]]
    read_as = {language: writing_of(language, "") for language in languages}
    assert [one for one, writing in read_as.items() if writing == "html"] == ["html"]
    assert (extension / "extension" / about["main"]).is_file()


def test_it_starts_the_server_and_shows_what_it_tells(extension: Path, tmp_path: Path) -> None:
    stub = Path(__file__).parent / "vscode_stub.js"
    page = tmp_path / "page.html"
    text = '<p>Read\n<a href="/fees">here</a>.</p>'
    bundled = extension / "extension" / "out" / "extension.js"
    server = Path(sys.executable).parent / "plumrake"
    done = subprocess.run(
        ["node", str(stub), str(bundled), str(server), str(page), text],
        env=TOOLS,
        capture_output=True,
        text=True,
        timeout=60,
        check=False,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    assert json.loads(done.stdout) == [["links/vague", 1, 0]]
