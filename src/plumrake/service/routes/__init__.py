"""Routes, one module per resource."""
