"""Many variables at once: at a glance, by what goes with the outcome, and as a paper's first table."""
