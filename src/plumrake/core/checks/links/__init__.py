"""Links and what they are called (WCAG 2.2, 2.4.4)."""
