"""Lenses: ways to obtain a page. Each gives the same ``Document``; they differ in the evidence that
comes with it."""
