"""Meals: a table with several dishes and several eaters."""
