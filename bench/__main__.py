"""Run every benchmark and print what it measured."""

from bench import rendered_pace

for module in (rendered_pace,):
    print(f"== {(module.__doc__ or '').splitlines()[0]}")
    module.main()
