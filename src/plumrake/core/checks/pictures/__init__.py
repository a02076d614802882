"""Pictures and their texts (WCAG 2.2, 1.1.1)."""
