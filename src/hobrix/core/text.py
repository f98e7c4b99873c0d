"""Text that can be written: halves of characters (lone surrogates, such as half an emoji) cannot."""

from typing import Any


def has_half_characters(value: Any) -> bool:
    """Whether some text in it, however deep, cannot be written as UTF-8."""
    if isinstance(value, str):
        try:
            value.encode()
        except UnicodeEncodeError:
            return True
        return False
    if isinstance(value, dict):
        return any(has_half_characters(part) for pair in value.items() for part in pair)
    return isinstance(value, list | tuple) and any(map(has_half_characters, value))
