"""Mends carried out: from what a check proposes to spans of the source text and what replaces them.

Pure: a source text and what it says go in, edits come out. Outside their spans every character is
as it was.
"""
