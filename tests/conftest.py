"""What all tests share."""

from hypothesis import settings

# The first example of a test may have to import a large library.
settings.register_profile("hobrix", deadline=None)
settings.load_profile("hobrix")
