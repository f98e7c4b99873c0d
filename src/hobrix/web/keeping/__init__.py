"""Keeping what people entrust to an installation: backup, restore, checks, and letting go of what was
deleted long ago. Nothing here needs a server, and a backup may be made beside one that runs."""
