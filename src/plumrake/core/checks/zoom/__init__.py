"""Checks of zoom."""
