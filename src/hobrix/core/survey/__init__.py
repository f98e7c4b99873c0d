"""Estimates that respect weights, strata and clusters."""
