"""Benchmarks: figures as ratios within one run, since the machines are noisy. ``python -m bench``
runs all that fit this machine."""
