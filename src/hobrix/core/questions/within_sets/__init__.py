"""The Odds model of people who were matched in sets: everybody is compared within the own set."""
