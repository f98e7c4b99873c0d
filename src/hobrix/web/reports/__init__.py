"""Reports of a study: blocks that several people write, and the answers in them."""
