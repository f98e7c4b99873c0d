"""Logistic regression over design matrices. It knows nothing of variables or labels."""
