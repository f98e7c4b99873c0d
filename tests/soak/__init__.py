"""What an installation stands: many people, kills, slow clients, long work, backups under load. Each part
prints its figures; `make soak` runs them all. Loopback only."""
