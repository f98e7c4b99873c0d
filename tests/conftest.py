"""What all tests share."""

import os

from hypothesis import settings

# The first example of a test may have to import a large library.
settings.register_profile("hobrix", deadline=None)
# What CI runs tries the same examples every time; others look further, as one should at times.
settings.register_profile("steady", deadline=None, derandomize=True)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "hobrix"))
