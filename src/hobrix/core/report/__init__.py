"""Reports: what a person writes, and the parts of it that answers give."""
