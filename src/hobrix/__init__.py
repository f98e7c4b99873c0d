"""Hobrix answers the questions a survey researcher asks of categorical and yes/no outcomes."""
