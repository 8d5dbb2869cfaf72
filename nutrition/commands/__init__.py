"""The commands of `python -m nutrition`, one module each with a `run`."""
