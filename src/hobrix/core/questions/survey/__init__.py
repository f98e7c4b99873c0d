"""Answers that respect the design of the sample."""
