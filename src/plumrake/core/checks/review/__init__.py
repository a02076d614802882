"""Checks of review: what people saw."""
