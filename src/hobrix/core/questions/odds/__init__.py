"""The Odds model lens: logistic regression that explains itself."""
