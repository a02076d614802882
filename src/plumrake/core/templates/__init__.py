"""Templates by their markup: what a template engine or a framework fills is opaque.

A template is read as the HTML that it is where nothing is filled in. Each mark of the engine
becomes text of the same length, so that offsets are those of the template: letters that stand for
something unknown, or blanks where nothing is printed. Nobody can say of what is unknown that it is
empty, vague or misspelt (``standing``).
"""
