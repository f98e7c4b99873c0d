"""Crosstab: the outcome by one explanatory variable, tested, measured and read."""
