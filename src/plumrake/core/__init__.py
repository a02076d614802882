"""The computation: a page model goes in, findings come out. No input or output, no clock, no
database, no HTTP."""
