"""Pictures (and a sound or two) for the demo site, made by rule from their names: canal scenes,
faces, a map. Nobody's photographs."""

from __future__ import annotations

import hashlib
import math
import random
import wave
from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

_SIZE = (960, 540)
_SKIES = [
    ((188, 214, 226), (240, 232, 210)),
    ((120, 150, 180), (236, 190, 150)),
    ((205, 222, 214), (250, 246, 230)),
    ((90, 110, 140), (180, 170, 170)),
]
_BOATS = [(143, 39, 39), (27, 94, 114), (77, 107, 47), (200, 150, 40)]


def draw(file: Path) -> None:
    """Draw the picture that the file's name stands for, unless it is there; the same name gives the
    same picture."""
    if file.exists() or file.suffix in (".svg", ".mp4"):
        return
    file.parent.mkdir(parents=True, exist_ok=True)
    if file.suffix == ".vtt":
        file.write_text(
            "WEBVTT\n\n00:00.000 --> 00:04.000\nThe brush whispers over the planks.\n",
            encoding="utf-8",
        )
        return
    if file.suffix == ".wav":
        _sound(file)
        return
    chance = random.Random(hashlib.sha256(file.name.encode()).digest())  # noqa: S311
    if file.name.startswith("portrait"):
        picture = _portrait(chance)
    elif file.name.startswith("map"):
        picture = _map()
    elif file.name.startswith("notice"):
        picture = _notice()
    elif file.name.startswith("register-title"):
        picture = _title()
    elif "divider" in file.name:
        picture = Image.new("RGB", (300, 4), (27, 94, 114))
    else:
        picture = _scene(chance)
    if file.suffix in (".png", ".pdf"):
        picture.save(file, optimize=True)
    else:
        picture.save(file, quality=80)


def _sound(file: Path) -> None:
    """Write a short whistle."""
    rate = 8000
    samples = (
        int(90 * math.sin(at / rate * math.tau * (700 + 300 * math.sin(at / 900)))) + 128
        for at in range(rate)
    )
    with wave.open(str(file), "wb") as recording:
        recording.setnchannels(1)
        recording.setsampwidth(1)
        recording.setframerate(rate)
        recording.writeframes(bytes(samples))


def _scene(chance: random.Random) -> Image.Image:
    width, height = _SIZE
    picture = Image.new("RGB", _SIZE)
    pen = ImageDraw.Draw(picture)
    top, bottom = chance.choice(_SKIES)
    horizon = int(height * chance.uniform(0.4, 0.55))
    for y in range(horizon):
        share = y / horizon
        pen.line(
            [(0, y), (width, y)],
            fill=tuple(int(a + (b - a) * share) for a, b in zip(top, bottom, strict=True)),
        )
    for _ in range(3):
        x, size = chance.randint(0, width), chance.randint(120, 320)
        pen.ellipse(
            [x - size, horizon - size // 3, x + size, horizon + size // 2],
            fill=(chance.randint(70, 120), chance.randint(110, 140), chance.randint(60, 90)),
        )
    pen.rectangle([0, horizon, width, height], fill=(84, 128, 142))
    pen.polygon(
        [(0, height), (0, horizon + 60), (width * 0.35, horizon), (width * 0.1, height)],
        fill=(214, 200, 165),
    )
    for _ in range(60):
        x, y = chance.randint(int(width * 0.2), width), chance.randint(horizon + 8, height)
        pen.line([(x, y), (x + chance.randint(20, 90), y)], fill=(110, 152, 165), width=2)
    for _ in range(chance.randint(1, 3)):
        x, y, length = (
            chance.randint(300, 700),
            chance.randint(horizon + 40, height - 80),
            chance.randint(140, 260),
        )
        colour = chance.choice(_BOATS)
        pen.polygon(
            [(x, y), (x + length, y), (x + length - 20, y + 34), (x + 20, y + 34)], fill=colour
        )
        pen.rectangle(
            [x + 40, y - 24, x + length - 40, y],
            fill=tuple(min(255, channel + 60) for channel in colour),
        )
    for _ in range(chance.randint(4, 9)):
        x, tall = chance.randint(0, width), chance.randint(60, 160)
        pen.rectangle([x - 5, horizon - tall // 2, x + 5, horizon + 12], fill=(92, 74, 58))
        pen.ellipse(
            [x - tall // 3, horizon - tall, x + tall // 3, horizon - tall // 3],
            fill=(chance.randint(60, 130), chance.randint(90, 130), 50),
        )
    return picture


def _portrait(chance: random.Random) -> Image.Image:
    picture = Image.new(
        "RGB",
        (480, 480),
        (chance.randint(190, 230), chance.randint(200, 225), chance.randint(190, 220)),
    )
    pen = ImageDraw.Draw(picture)
    skin = chance.choice([(240, 205, 175), (200, 150, 115), (150, 105, 80), (225, 180, 150)])
    hair = chance.choice([(60, 45, 40), (160, 120, 70), (190, 190, 190), (30, 30, 35)])
    pen.ellipse([70, 330, 410, 700], fill=chance.choice(_BOATS))
    pen.ellipse([130, 70, 350, 330], fill=hair)
    pen.ellipse([145, 100, 335, 370], fill=skin)
    for x in (200, 280):
        pen.ellipse([x - 9, 210, x + 9, 228], fill=(40, 40, 45))
    pen.arc([195, 250, 285, 315], 20, 160, fill=(130, 60, 60), width=6)
    return picture


def _map() -> Image.Image:
    picture = Image.new("RGB", (720, 300), (233, 230, 214))
    pen = ImageDraw.Draw(picture)
    pen.line(
        [(0, 160), (90, 150), (270, 130), (450, 170), (630, 120), (720, 110)],
        fill=(84, 128, 142),
        width=14,
        joint="curve",
    )
    for x, y in ((90, 150), (270, 130), (450, 170), (630, 120)):
        pen.ellipse(
            [x - 22, y - 22, x + 22, y + 22], fill=(143, 39, 39), outline=(255, 255, 255), width=4
        )
    return picture


def _notice() -> Image.Image:
    picture = Image.new("RGB", (720, 240), (250, 246, 230))
    pen = ImageDraw.Draw(picture)
    pen.rectangle([8, 8, 711, 231], outline=(143, 39, 39), width=8)
    for y, line in ((50, "Mind the wet paint"), (130, "on the water bus")):
        pen.text((60, y), line, fill=(30, 30, 35), font=ImageFont.load_default(56))
    return picture


def _title() -> Image.Image:
    picture = Image.new("RGB", (600, 80), (246, 241, 230))
    pen = ImageDraw.Draw(picture)
    for x in range(20, 560, 34):
        pen.rounded_rectangle([x, 24, x + 22, 58], 6, fill=(27, 94, 114))
    return picture
