"""The garden's WordPress, filled: authors, pictures, items, the plugin set up."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime, timedelta
from importlib.resources import as_file, files
from pathlib import Path
from typing import Any

from PIL import Image, ImageDraw

from plumrake.demo.wordpress.content import AUTHORS, ITEMS, PICTURES, Item
from plumrake.demo.wordpress.server import WordPress

_SIZE = (960, 640)
_FROM = "2026-01-05 09:00:00"


@dataclass(frozen=True, slots=True)
class Filled:
    """What was made: the application password of the user ``plumrake``, items by slug."""

    password: str
    items: Mapping[str, int]


def fill(
    wordpress: WordPress,
    people_password: str,
    plugin: Mapping[str, Any] | None = None,
    items: Sequence[Item] = ITEMS,
) -> Filled:
    """Fill a new WordPress with the garden's site. Raises ``ClusterError``."""
    place = files("plumrake.demo") / "wordpress"
    folder = wordpress.folder / "pictures"
    folder.mkdir(exist_ok=True)
    pictures = {
        name: [str(_drawn(folder / f"{name}.jpg", colour)), text]
        for name, (colour, text) in PICTURES.items()
    }
    given = {
        "authors": AUTHORS,
        "password": people_password,
        "pictures": pictures,
        "items": [asdict(item) for item in items],
        "from": _FROM,
        "due": f"{datetime.now(UTC) + timedelta(days=9):%Y-%m-%d 09:00:00}",
        "plugin": dict(plugin) if plugin else None,
    }
    kinds = wordpress.folder / "content" / "mu-plugins" / "garden.php"
    kinds.parent.mkdir(exist_ok=True)
    kinds.write_bytes((place / "garden.php").read_bytes())
    with as_file(place / "seed.php") as script:
        made = json.loads(wordpress.run(script, given=json.dumps(given)))
    return Filled(made["password"], made["items"])


def _drawn(file: Path, colour: str) -> Path:
    """Draw a plain picture that stands for a photograph."""
    picture = Image.new("RGB", _SIZE, colour)
    pen = ImageDraw.Draw(picture)
    wide, high = _SIZE
    for number in range(5):
        left = number * wide // 5
        pen.ellipse((left, high // 3, left + wide // 4, high), fill="#ffffff22", outline="#ffffff")
    picture.save(file, quality=80)
    return file
