"""Headings and the outline they make (WCAG 2.2, 1.3.1, 2.4.6)."""
