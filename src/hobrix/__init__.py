"""Hobrix answers questions about categorical and yes/no outcomes.

``hobrix.read`` and ``Data.ask`` are for notebooks and scripts; the web application starts with the
``hobrix`` command.
"""

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from hobrix.notebook import Asked, Data, read

__all__ = ["Asked", "Data", "read"]


def __getattr__(name: str) -> Any:
    """Loaded when it is asked for: the command line starts without the statistics."""
    if name in __all__:
        from hobrix import notebook

        return getattr(notebook, name)
    raise AttributeError(name)
