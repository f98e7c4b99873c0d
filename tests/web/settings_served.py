"""Settings of a server that tests start and end: those it really has, but nothing is worked out before it is asked for."""

from hobrix.web.config.settings import *  # noqa: F403

WARM_UP = ""
