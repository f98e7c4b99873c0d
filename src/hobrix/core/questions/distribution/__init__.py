"""The Distribution lens: each variable by itself."""
