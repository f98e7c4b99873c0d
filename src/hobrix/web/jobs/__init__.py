"""Long work in the background: told how far it is, stopped on request, taken up after a crash."""
