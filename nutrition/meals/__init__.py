"""Several dishes and several eaters: the table, what it leaves, who cannot eat from which pot."""
