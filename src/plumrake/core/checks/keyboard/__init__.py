"""Checks of keyboard."""
