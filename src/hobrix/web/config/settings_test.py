"""Settings of the test run: a database file of its own and quick passwords."""

import os
import tempfile

os.environ["HOBRIX_HOME"] = os.environ.get("HOBRIX_TEST_HOME") or tempfile.mkdtemp(prefix="hobrix-")

from hobrix.web.config.settings import *  # noqa: F403
from hobrix.web.config.settings import DATABASES, HOME

# A file, not memory: the browser tests read it from another thread.
DATABASES["default"]["TEST"] = {"NAME": str(HOME / "test.sqlite3")}
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
ALLOWED_HOSTS = ["*"]
(HOME / "static").mkdir(exist_ok=True)

# Quicker; tests of the reading apart and of the processes beside turn them on.
READ_APART = False
BESIDE = False
WARM_UP = ""
