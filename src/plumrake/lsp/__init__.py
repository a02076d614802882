"""The language server: what is found, while a page is being written."""
