"""Loads all that assessing a page needs: what the processes of ``hands.py`` are forked from."""

from __future__ import annotations

import plumrake.lenses.assessor
import plumrake.lenses.rendered.decode  # noqa: F401
from plumrake.core.registry import catalogue

catalogue()
