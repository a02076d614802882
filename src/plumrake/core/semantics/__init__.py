"""What the markup means: who can meet an element (exposure), as what (role), and under which
name."""
