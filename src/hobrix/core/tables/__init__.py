"""Estimators over tables of counts. They know nothing of variables or labels."""
