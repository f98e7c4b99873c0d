"""Django settings, addresses and the WSGI entry."""
