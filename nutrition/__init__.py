"""The computation core: foods, lines, weights, limits. Pure Python and numpy; knows nothing of the web."""
