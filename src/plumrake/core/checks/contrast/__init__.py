"""Whether text and controls stand out (WCAG 2.2, 1.4.3, 1.4.6, 1.4.11)."""
