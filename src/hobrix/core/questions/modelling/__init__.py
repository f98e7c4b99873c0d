"""From the terms of a sentence to a fitted model: what every model of an event is made of."""
