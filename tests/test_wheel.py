"""What is handed out: a wheel, installed where nothing of ours is, does its work."""

from __future__ import annotations

import os
import subprocess
import sys
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest

from plumrake import __version__
from plumrake.demo.ports import free_port
from tests.services import copied

TAKES_LONG = True

ROOT = Path(__file__).parents[1]
PAGE = '<!doctype html><html lang="en"><title>Fees</title><main><h1>Fees</h1><img src="a.jpg">'


def run(*words: str | Path, **more: str) -> subprocess.CompletedProcess[str]:
    """Run a command outside of the project's folder and environment."""
    clean = {name: os.environ[name] for name in ("PATH", "HOME", "TMPDIR") if name in os.environ}
    return subprocess.run(
        list(map(str, words)),
        cwd="/",
        env=clean | more,
        capture_output=True,
        text=True,
        check=False,
    )


@pytest.fixture(scope="module")
def wheel(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The wheel as it is built from this tree, with the console in it."""
    folder = tmp_path_factory.mktemp("dist")
    subprocess.run(["sh", "scripts/build_console.sh"], cwd=ROOT, check=True, capture_output=True)
    built = run(sys.executable, "-m", "build", "--wheel", "--outdir", folder, ROOT)
    assert built.returncode == 0, built.stderr
    (file,) = folder.glob("*.whl")
    return file


@pytest.fixture(scope="module")
def installed(wheel: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    """The command of a fresh environment into which the wheel was installed with what it asks
    for."""
    folder = tmp_path_factory.mktemp("fresh")
    assert run(sys.executable, "-m", "venv", folder).returncode == 0
    install, pins = ROOT / "scripts/install_packages.sh", ROOT / "requirements/base.txt"
    done = run(install, folder / "bin/python", "-c", pins, wheel)
    assert done.returncode == 0, done.stderr
    yield folder / "bin/plumrake"


def test_the_console_is_in_the_wheel_and_the_cases_are_not(wheel: Path) -> None:
    """What is built is handed out; what is for developers stays here."""
    names = zipfile.ZipFile(wheel).namelist()
    assert "plumrake/service/console/index.html" in names
    assert any(name.startswith("plumrake/service/console/assets/") for name in names)
    assert any(name.endswith("fixes.sql") for name in names)
    assert not [name for name in names if name.endswith(".cases.html") or ".test." in name]


def test_it_says_its_version(installed: Path) -> None:
    """The command starts."""
    assert __version__ in run(installed, "--version").stdout


@pytest.mark.parametrize("lens", ["markup", "rendered"])
def test_it_looks_at_a_page(installed: Path, tmp_path: Path, lens: str) -> None:
    """Both lenses find the picture without a text."""
    page = tmp_path / "page.html"
    page.write_text(PAGE)
    looked = run(installed, "look", page, "--lens", lens)
    assert looked.returncode == 1, looked.stderr
    assert "pictures/no-text" in looked.stdout


def test_it_serves_an_empty_database(installed: Path, postgres: str) -> None:
    """Migrated and started, it is ready, and gives the console and its files."""
    with_nothing = copied(postgres, "template0")
    settings = {"PLUMRAKE_DATABASE": with_nothing, "PLUMRAKE_PORT": str(free_port())}
    migrated = run(installed, "migrate", **settings)
    assert migrated.returncode == 0, migrated.stderr
    service = subprocess.Popen(
        [str(installed), "serve"], cwd="/", env={**os.environ, **settings}, stderr=subprocess.PIPE
    )
    address = f"http://127.0.0.1:{settings['PLUMRAKE_PORT']}"
    try:
        wait_until_ready(service, address)
        page = httpx.get(address, headers={"Accept": "text/html"}).raise_for_status().text
        script = page.partition('src="')[2].partition('"')[0]
        assert httpx.get(address + script).raise_for_status().content
    finally:
        service.terminate()
        service.communicate(timeout=20)


def wait_until_ready(service: subprocess.Popen[bytes], address: str) -> None:
    """Wait until the service says that it is ready, at most half a minute."""
    for _ in range(150):
        assert service.poll() is None, service.stderr and service.stderr.read()
        try:
            if httpx.get(f"{address}/health/ready").status_code == 200:
                return
        except httpx.TransportError:
            pass
        time.sleep(0.2)
    raise AssertionError("the service was not ready in time")
