"""The server's clock: the wall's when it was started, carried on by one that nobody sets."""

import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta

# Goes on while the machine sleeps, where there is such a clock.
_RUNNING = getattr(time, "CLOCK_BOOTTIME", time.CLOCK_MONOTONIC)


def steady_now() -> Callable[[], datetime]:
    """A clock that never steps, so that a pour's minutes do not when the machine's clock is set."""
    begun, at = datetime.now(UTC), time.clock_gettime(_RUNNING)
    return lambda: begun + timedelta(seconds=time.clock_gettime(_RUNNING) - at)
