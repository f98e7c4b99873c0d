"""The model of an outcome whose answers are not cut in two: odds of a higher answer, or of each against a base."""
