"""Ratios against general-purpose libraries, measured side by side in one run (make bench)."""
