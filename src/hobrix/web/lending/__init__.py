"""Lenders: institutions whose data sets can be brought in. The service, and asking it with care."""
